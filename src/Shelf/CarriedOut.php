<?php

namespace Pestle\App\Shelf;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\KitVersion;
use Pestle\App\Queue\MadeFile;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Versions of kits as zips: packed by a worker, as made sounds are recorded note by note for them, and kept. */
final readonly class CarriedOut
{
    public function __construct(private KitFiles $files, private DataFolder $folder, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    /** @return string|null path of the zip; null while it is being packed */
    public function find(KitVersion $version): ?string
    {
        return $this->file($version)->find($this->work);
    }

    #[AsMessageHandler]
    public function __invoke(CarryOut $job): void
    {
        $this->entities->clear();
        $version = $this->entities->find(KitVersion::class, $job->version);
        if (null !== $version) {
            $this->file($version)->make(fn (string $path): array => $this->files->out(KitShelf::sheet($version), $path), $this->logger);
        }
    }

    private function file(KitVersion $version): MadeFile
    {
        return new MadeFile(new CarryOut($version->kitId, $version->id), \sprintf('%s/kit-%d-%s.zip', $this->folder->edited(), $version->id, $version->print));
    }
}
