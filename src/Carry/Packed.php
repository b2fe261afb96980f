<?php

namespace Pestle\App\Carry;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Queue\MadeFile;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Beats as one file each, and the library as one: packed by a worker, and kept. */
final readonly class Packed
{
    public function __construct(private Packing $packing, private Beats $beats, private DataFolder $folder, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    /** @return string|null path of the archive; null while it is being packed */
    public function find(BeatRecord $record): ?string
    {
        return $this->file(new Pack($record->id, $record->head))->find($this->work);
    }

    /** @return string|null path of the archive; null while it is being packed */
    public function library(int $asked): ?string
    {
        return $this->libraryFile(new PackLibrary($asked))->find($this->work);
    }

    #[AsMessageHandler]
    public function packLibrary(PackLibrary $job): void
    {
        $this->entities->clear();
        array_map(unlink(...), glob($this->folder->edited().'/library-*') ?: []);
        $this->libraryFile($job)->make(fn (string $path) => $this->packing->library($path, fn (float $share) => $this->work->tell($job, $share)), $this->logger);
    }

    private function libraryFile(PackLibrary $job): MadeFile
    {
        return new MadeFile($job, $this->folder->edited().'/library-'.$job->asked.'.zip');
    }

    #[AsMessageHandler]
    public function __invoke(Pack $job): void
    {
        $this->entities->clear();
        $record = $this->beats->find($job->beat);
        if (null !== $record) {
            // Of a beat the archive that was asked for last is kept.
            array_map(unlink(...), glob(\sprintf('%s/beat-%d-*', $this->folder->edited(), $job->beat)) ?: []);
            $this->file($job)->make(fn (string $path) => $this->packing->beat($record, $job->head, $path, fn (float $share) => $this->work->tell($job, $share)), $this->logger);
        }
    }

    private function file(Pack $job): MadeFile
    {
        return new MadeFile($job, \sprintf('%s/beat-%d-%d.zip', $this->folder->edited(), $job->beat, $job->head));
    }
}
