<?php

namespace Pestle\App\Shelf;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\Uploads;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Psr\Log\LoggerInterface;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Puts kits that came in on the shelf, and says in the upload how far it is and what could not be carried. */
#[AsMessageHandler]
final readonly class BringKitHandler
{
    private const TOLD = 3;

    public function __construct(private Uploads $uploads, private KitFiles $kits, private DataFolder $folder, private Work $work, private EntityManagerInterface $entities, private LoggerInterface $logger)
    {
    }

    public function __invoke(BringKit $message): void
    {
        $this->entities->clear();
        $upload = $this->uploads->find($message->upload);
        if (null === $upload || Upload::LISTENING !== $upload->state) {
            return;
        }
        $folder = $this->folder->incoming().'/kit-'.$upload->id;
        try {
            $names = $this->gathered($message->files, $folder);
            $said = [];
            // What came in may be brought in again when this process ends before it is done: it goes last.
            foreach (array_filter($names, static fn (string $name): bool => 1 === preg_match('/\.(?:zip|sfz)$/i', $name)) as $name) {
                foreach ($this->kits->in($folder.'/'.$name, $name, '', fn (int $done, int $of) => $this->tell($message, $done, $of)) as $kit) {
                    $said[] = self::said(...$kit);
                }
            }
            if ([] === $said) {
                throw new Unreadable(\sprintf('%s holds no kit that could be brought in. Choose a zip with an SFZ file, or an SFZ file together with its samples.', $upload->name));
            }
            $upload->state = Upload::DONE;
            $upload->message = mb_substr(implode(' ', $said), 0, 400);
        } catch (Unreadable|InvalidChange $e) {
            $this->uploads->fail($upload, $e->getMessage());
        } catch (\Throwable $e) {
            $this->logger->error('A kit could not be brought in: '.$e->getMessage(), ['exception' => $e]);
            $this->uploads->fail($upload, DiskTrouble::sentence($e) ?? \sprintf('%s could not be brought in. Unpack it, and bring in its SFZ file together with its samples.', $upload->name));
        } finally {
            (new Filesystem())->remove($folder);
        }
        foreach ($message->files as $id) {
            $file = $this->uploads->find($id);
            if (null !== $file) {
                $file->state = Upload::DONE;
            }
        }
        $this->entities->flush();
        foreach ($message->files as $id) {
            @unlink($this->uploads->place($id));
        }
    }

    /**
     * @param list<string> $ids
     *
     * @return list<string> names of the files, which lie together in the folder as well from now on
     */
    private function gathered(array $ids, string $folder): array
    {
        (new Filesystem())->remove($folder);
        (new Filesystem())->mkdir($folder, 0o700);
        $names = [];
        foreach ($ids as $id) {
            $file = $this->uploads->find($id);
            if (null !== $file && is_file($this->uploads->path($file))) {
                $name = str_replace(['/', '\\', "\0"], '_', $file->name);
                $names[] = $name = str_starts_with($name, '.') ? 'kit'.$name : $name;
                @link($this->uploads->path($file), $folder.'/'.$name) || copy($this->uploads->path($file), $folder.'/'.$name);
            }
        }

        return $names;
    }

    private function tell(BringKit $job, int $done, int $of): void
    {
        $this->entities->getConnection()->executeStatement('UPDATE upload SET message = ? WHERE id = ?', [\sprintf('%d of %d sounds', $done, $of), $job->upload]);
        $this->work->tell($job, $done / max(1, $of));
    }

    /** @param list<string> $told */
    private static function said(ShelvedKit $kit, KitSheet $sheet, array $told): string
    {
        $more = \count($told) - self::TOLD;
        $lost = [] === $told ? '' : \sprintf(' Not carried: %s%s.', implode('; ', \array_slice($told, 0, self::TOLD)), $more > 0 ? \sprintf(' and %d more', $more) : '');

        return \sprintf('%s: %d sounds on the shelf.%s', $kit->name, \count($sheet->sounds()), $lost);
    }
}
