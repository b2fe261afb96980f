<?php

namespace Pestle\App\Storage;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Apart\TakenApart;
use Pestle\App\Entity\Delivery;
use Pestle\App\Entity\Sample;
use Symfony\Component\Filesystem\Filesystem;

/** What takes how much of the disk, and how it is given back. */
final readonly class Space
{
    /** By the word in the address: name, what it is, and what clearing it means; the last is null where there is nothing to clear. */
    private const PARTS = [
        'sound' => ['Rendered sound', 'What was heard lately, so that it need not be worked out again.', 'It is worked out again when it is heard.'],
        'edited' => ['Worked-out edits', 'Samples stretched, pitched or in time, and their outlines.', 'They are worked out again when they are heard or shown.'],
        'apart' => ['Recordings half taken apart', 'What was given up, or not gone on with yet.', 'They are taken apart from their start again.'],
        'deliveries' => ['Delivered files', 'Mixes, stems and archives that were made.', 'Their files go, the beats stay: deliver again to have them back.'],
        'cleared' => ['Samples taken out of the library', 'They can be brought back as long as they are here.', 'They cannot be brought back then.'],
        'deleted' => ['Deleted beats', 'They can be restored as long as they are here, and so can all their versions.', 'They cannot be restored then.'],
        'versions' => ['Old versions of beats', 'Those more than 1,000 steps back.', 'Undo leads back 1,000 steps then, and no further.'],
        'samples' => ['Samples in the library', 'The files as they came, and what is played of them.', null],
        'beats' => ['Beats with all their versions', 'Every version that undo can lead to.', null],
    ];

    /** What can't be had back once it is cleared. */
    private const FOR_GOOD = ['cleared', 'deleted', 'versions'];
    /** Pieces of documents that versions of beats in the list hold. */
    private const KEPT = 'SELECT j.value FROM revision r JOIN beat b ON b.id = r.beat_id, json_each(r.manifest) j WHERE b.deleted_at IS NULL';

    public function __construct(private DataFolder $folder, private Beats $beats, private OldVersions $versions, private EntityManagerInterface $entities, private Connection $database, private TakenApart $apart)
    {
    }

    /** @return list<array{id: string, name: string, what: string, clearing: string|null, final: bool, bytes: int}> */
    public function parts(): array
    {
        $parts = [];
        foreach (self::PARTS as $id => [$name, $what, $clearing]) {
            $parts[] = ['id' => $id, 'name' => $name, 'what' => $what, 'clearing' => $clearing, 'final' => \in_array($id, self::FOR_GOOD, true), 'bytes' => $this->bytes($id)];
        }

        return $parts;
    }

    /** @return int bytes that came free */
    public function clear(string $part): int
    {
        $before = $this->bytes($part);
        match ($part) {
            'sound' => $this->remove(glob($this->folder->cache().'/??') ?: []),
            'edited' => $this->remove(glob($this->folder->edited().'/*.{wav,outline,hits,notes,zip,problem}', \GLOB_BRACE) ?: []),
            'apart' => $this->apart->forgetHalves(),
            'deliveries' => $this->clearDeliveries(),
            'cleared' => $this->clearSamples(),
            'deleted' => $this->clearBeats(),
            'versions' => $this->versions->clear(),
            default => throw new \OutOfBoundsException('This can\'t be cleared.'),
        };

        return $before - $this->bytes($part);
    }

    private function bytes(string $part): int
    {
        return match ($part) {
            'sound' => self::size($this->folder->cache()),
            'edited' => self::size($this->folder->edited()),
            'apart' => self::once(glob($this->folder->apart().'/*/*.wav') ?: []),
            'deliveries' => self::size($this->folder->deliveries()),
            'cleared' => array_sum(array_map($this->sampleBytes(...), $this->clearedSamples())),
            'deleted' => (int) (is_numeric($sum = $this->database->fetchOne('SELECT SUM(LENGTH(body)) FROM content WHERE hash NOT IN ('.self::KEPT.')')) ? $sum : 0),
            'versions' => $this->versions->bytes(),
            'samples' => self::size($this->folder->samples(), $this->folder->originals()) - $this->bytes('cleared'),
            default => array_sum(array_map(static fn (string $path): int => (int) @filesize($path), glob($this->folder->database().'*') ?: [])),
        };
    }

    private function clearBeats(): void
    {
        $deleted = '(SELECT id FROM beat WHERE deleted_at IS NOT NULL)';
        $this->database->transactional(static function (Connection $database) use ($deleted): void {
            foreach (['delivery WHERE beat_id IN '.$deleted, 'revision WHERE beat_id IN '.$deleted, 'beat WHERE deleted_at IS NOT NULL', 'content WHERE hash NOT IN ('.self::KEPT.')', 'content_sample WHERE content NOT IN (SELECT hash FROM content)'] as $rows) {
                $database->executeStatement('DELETE FROM '.$rows);
            }
        });
        $this->database->executeStatement('VACUUM');
        $this->entities->clear();
    }

    /** Of those that are done: what is being made stays. */
    private function clearDeliveries(): void
    {
        $open = $this->entities->getRepository(Delivery::class)->findBy(['state' => [Delivery::WAITING, Delivery::RUNNING]]);
        $kept = array_map(static fn (Delivery $d): string => (string) $d->id, $open);
        $this->remove(array_filter(glob($this->folder->deliveries().'/*') ?: [], static fn (string $path): bool => !\in_array(basename($path, '.part'), $kept, true)));
    }

    private function clearSamples(): void
    {
        foreach ($this->clearedSamples() as $sample) {
            $this->remove([...$this->files($sample), $this->folder->apart().'/'.$sample->hash]);
            $this->entities->remove($sample);
        }
        $this->entities->flush();
    }

    /** @return list<Sample> out of the library, and in no version of any beat */
    private function clearedSamples(): array
    {
        /** @var list<string> $hashes */
        $hashes = $this->database->fetchFirstColumn('SELECT hash FROM sample WHERE cleared_at IS NOT NULL');
        $used = $this->beats->samplesInHistory();
        $unused = array_values(array_filter($hashes, static fn (string $hash): bool => !isset($used[$hash])));

        return $this->entities->getRepository(Sample::class)->findBy(['hash' => $unused]);
    }

    private function sampleBytes(Sample $sample): int
    {
        return self::once($this->files($sample));
    }

    /** @return list<string> the file as it came, and what is played */
    private function files(Sample $sample): array
    {
        $place = substr($sample->hash, 0, 2).'/'.$sample->hash;

        return array_values(array_filter([$this->folder->originals().'/'.$place, $this->folder->samples().'/'.$place.'.wav'], is_file(...)));
    }

    /** @param iterable<string> $paths */
    private function remove(iterable $paths): void
    {
        (new Filesystem())->remove($paths);
    }

    private static function size(string ...$folders): int
    {
        $paths = [];
        foreach ($folders as $folder) {
            /** @var \SplFileInfo $file */
            foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
                $paths[] = $file->getPathname();
            }
        }

        return self::once($paths);
    }

    /**
     * Bytes of files, of which some may lie on the disk once under two names.
     *
     * @param list<string> $paths
     */
    private static function once(array $paths): int
    {
        $sizes = [];
        foreach ($paths as $path) {
            $stat = @stat($path);
            if (false !== $stat) {
                $sizes[$stat['ino']] = $stat['size'];
            }
        }

        return array_sum($sizes);
    }
}
