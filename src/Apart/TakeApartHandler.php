<?php

namespace Pestle\App\Apart;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Takes a recording apart, piece by piece; begun again after a crash, it goes on behind the last whole piece. */
#[AsMessageHandler]
final readonly class TakeApartHandler
{
    public function __construct(private TakenApart $apart, private SampleStore $samples, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public function __invoke(TakeApart $message): void
    {
        $this->entities->clear();
        $sample = $this->samples->find($message->sound);
        if (null === $sample || [] !== $this->apart->state($sample)->samples) {
            return;
        }
        try {
            $files = $this->apart->files($sample);
            $files->make(fn (float $done) => $this->work->tell($message, 0.97 * $done));
            $this->apart->settle($sample, $files);
        } catch (UnreadableAudio|\InvalidArgumentException $e) {
            $this->apart->fail($sample, $e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A recording could not be taken apart: '.$e->getMessage(), ['exception' => $e]);
            $this->apart->fail($sample, DiskTrouble::sentence($e) ?? 'It could not be taken apart. Check that there is space on the disk, then go on.');
        }
    }
}
