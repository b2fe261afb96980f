<?php

namespace Pestle\App\Shelf;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\KitVersion;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\InvalidChange;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Versions of kits as zips: packed by a worker, as made sounds are recorded note by note for them, and kept. */
final readonly class CarriedOut
{
    public function __construct(private KitFiles $files, private DataFolder $folder, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    /**
     * @return string|null path of the zip; null while it is being packed
     *
     * @throws InvalidChange where it cannot be packed; asked for again, it is tried again
     */
    public function find(KitVersion $version): ?string
    {
        $path = $this->path($version);
        if (is_file($path)) {
            return $path;
        }
        $problem = @file_get_contents($path.'.problem');
        if (false !== $problem) {
            unlink($path.'.problem');
            throw new InvalidChange($problem);
        }
        $this->work->hand(new CarryOut($version->kitId, $version->id), Work::SHORT);

        return null;
    }

    #[AsMessageHandler]
    public function __invoke(CarryOut $job): void
    {
        $this->entities->clear();
        $version = $this->entities->find(KitVersion::class, $job->version);
        if (null === $version) {
            return;
        }
        $path = $this->path($version);
        try {
            $this->files->out(KitShelf::sheet($version), $path);
        } catch (UnreadableAudio $e) {
            file_put_contents($path.'.problem', $e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A kit could not be packed: '.$e->getMessage(), ['exception' => $e]);
            file_put_contents($path.'.problem', DiskTrouble::sentence($e) ?? 'It could not be packed. Check that there is space on the disk, then try again.');
        }
    }

    private function path(KitVersion $version): string
    {
        return $this->folder->edited().\sprintf('/kit-%d-%s.zip', $version->id, $version->print);
    }
}
