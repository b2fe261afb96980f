<?php

namespace Pestle\App\Carry;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\Uploads;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Exchange\Carried\Damaged;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Takes in an archive that was sent; its upload says what came of it. */
#[AsMessageHandler]
final readonly class BringBeatsHandler
{
    public function __construct(private Uploads $uploads, private Unpacking $unpacking, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public function __invoke(BringBeats $job): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($job->upload);
        if (null === $upload || Upload::LISTENING !== $upload->state) {
            return;
        }
        $path = $this->uploads->path($upload);
        try {
            $came = $this->unpacking->in($path, $upload->name, fn (float $share) => $this->work->tell($job, $share));
            $upload->state = Upload::DONE;
            $upload->message = mb_substr($came->sentence(), 0, 400);
            $this->entities->flush();
        } catch (Damaged $e) {
            $this->uploads->fail($upload, $e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('An archive could not be taken in: '.$e->getMessage(), ['exception' => $e]);
            $this->uploads->fail($upload, DiskTrouble::sentence($e) ?? \sprintf('%s could not be taken in. The log says more.', $upload->name));
        }
        @unlink($path);
    }
}
