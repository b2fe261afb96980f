<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Upload;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class ArriveHandler
{
    public function __construct(private Uploads $uploads, private SampleStore $samples, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public function __invoke(Arrive $message): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($message->upload);
        if (null === $upload || Upload::LISTENING !== $upload->state) {
            return;
        }
        $path = $this->uploads->path($upload);
        try {
            $sample = $this->samples->add($path, $upload->name, $upload->tags)->hash;
            // It may have been taken back meanwhile.
            if ($this->uploads->isWanted($upload)) {
                $upload->sample = $sample;
                $upload->state = Upload::DONE;
            }
            $this->entities->flush();
        } catch (UnreadableAudio $e) {
            $this->uploads->fail($upload, $e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A file could not be taken in: '.$e->getMessage(), ['exception' => $e]);
            $this->uploads->fail($upload, DiskTrouble::sentence($e) ?? \sprintf('%s: it could not be taken in. Convert it to WAV and try again.', $upload->name));
        }
        @unlink($path);
    }
}
