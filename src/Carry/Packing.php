<?php

namespace Pestle\App\Carry;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\KitVersion;
use Pestle\App\Entity\Sample;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Carried\ArchiveWriter;
use Pestle\Core\Exchange\Carried\CarriedKit;
use Pestle\Core\Exchange\Carried\CarriedSample;
use Pestle\Core\Exchange\Carried\Manifest;
use Pestle\Core\Pattern\Groove;

/** Packs a beat with all it needs, or the whole library with all beats, into one archive that any Pestle opens. */
final readonly class Packing
{
    /** Sums of all files are taken first, then they are written: each takes about half of it. */
    private const SUMS = 0.5;

    public function __construct(private Beats $beats, private SampleStore $samples, private KitShelf $kits, private GrooveShelf $grooves, private DataFolder $folder, private EntityManagerInterface $entities)
    {
    }

    /**
     * @param callable(float): void $told takes how far it is, 0 to 1
     *
     * @throws InvalidChange     when a sample is gone from the disk
     * @throws \RuntimeException when it cannot be written
     */
    public function beat(BeatRecord $record, int $head, string $path, callable $told): void
    {
        $json = $this->beats->json($record, $head);
        preg_match_all('~"shelf":"((\d+)/(\d+)/[0-9a-f]{24})"~', $json, $marks, \PREG_SET_ORDER);
        $kits = [];
        foreach ($marks as [, $mark, $kit, $number]) {
            $version = $this->kits->version((int) $kit, (int) $number);
            if (null !== $version && KitShelf::mark($version) === $mark) {
                $kits[$mark] = $version;
            }
        }
        $this->write($path, [[$record->name, $json]], array_values($kits), [], null, $told);
    }

    /**
     * All beats as they are now, all samples, the newest version of all kits, and all grooves.
     *
     * @param callable(float): void $told
     *
     * @throws InvalidChange
     * @throws \RuntimeException
     */
    public function library(string $path, callable $told): void
    {
        $beats = array_map(fn (BeatRecord $record): array => [$record->name, $this->beats->json($record)], $this->beats->all());
        $kits = array_map(fn (ShelvedKit $kit): ?KitVersion => $this->kits->version($kit->id, null), $this->entities->getRepository(ShelvedKit::class)->findBy(['deletedAt' => null]));
        $grooves = [];
        foreach ($this->grooves->all() as $n => $groove) {
            $slots = array_values($groove->slots);
            if ([] !== $slots) {
                $grooves[] = new Groove('g'.($n + 1), $groove->name, $groove->grid, $slots);
            }
        }
        $this->write($path, $beats, array_values(array_filter($kits)), $grooves, $this->samples->all(), $told);
    }

    /**
     * @param list<array{string, string}> $beats   names and documents
     * @param list<KitVersion>            $kits
     * @param list<Groove>                $grooves
     * @param list<Sample>|null           $samples null for those that beats and kits name
     * @param callable(float): void       $told
     */
    private function write(string $path, array $beats, array $kits, array $grooves, ?array $samples, callable $told): void
    {
        $archive = new ArchiveWriter($path);
        $documents = [];
        foreach ($beats as [$name, $json]) {
            $documents[] = $archive->text('beats', $name, 'json', $json);
        }
        $carried = array_map(fn (KitVersion $v): CarriedKit => $this->kit($v), $kits);
        $samples ??= array_values($this->samples->named(self::named([...array_column($beats, 1), ...array_column($kits, 'body')])));
        $packed = [];
        try {
            foreach ($samples as $n => $sample) {
                $packed[] = $this->sample($archive, $sample);
                $told(self::SUMS * ($n + 1) / \count($samples));
            }
        } catch (InvalidChange $e) {
            $archive->discard();
            throw $e;
        }
        $archive->close(new Manifest($documents, $packed, $carried, $grooves), static fn (float $share) => $told(self::SUMS + (1.0 - self::SUMS) * $share));
    }

    /**
     * @param list<string> $documents
     *
     * @return list<string> hashes of all samples that they mention, wherever they do
     */
    private static function named(array $documents): array
    {
        $hashes = [];
        foreach ($documents as $json) {
            $hashes += array_flip(Beats::samplesIn($json));
        }

        return array_map(strval(...), array_keys($hashes));
    }

    private function kit(KitVersion $version): CarriedKit
    {
        $kit = $this->kits->find($version->kitId);

        return new CarriedKit(KitShelf::mark($version), $kit->name ?? KitShelf::sheet($version)->name, $kit->tags ?? [], $kit->note ?? '', KitShelf::sheet($version));
    }

    /** @throws InvalidChange */
    private function sample(ArchiveWriter $archive, Sample $sample): CarriedSample
    {
        $played = $this->samples->library()->path($sample->hash);
        $original = $this->folder->originals().'/'.substr($sample->hash, 0, 2).'/'.$sample->hash;
        $original = is_file($original) ? $original : $played;
        if (!is_file($played)) {
            throw new InvalidChange(\sprintf('%s: its file is gone from the disk. Bring it in again, then pack anew.', $sample->name));
        }
        $file = $archive->file('samples', $sample->name, self::ending($original), $original);
        $same = $sample->hash === hash_file('sha256', $played);

        return new CarriedSample($file, $same ? null : $archive->file('played', $sample->name, 'wav', $played), $sample->heard(), $sample->said(), $sample->also ?? []);
    }

    /** As its contents say, since originals are kept without. */
    private static function ending(string $path): string
    {
        $head = (string) file_get_contents($path, false, null, 0, 12);

        return match (true) {
            \in_array(substr($head, 0, 4), ['RIFF', 'RF64', 'RIFX'], true) => 'wav',
            str_starts_with($head, 'FORM') => 'aif',
            str_starts_with($head, 'fLaC') => 'flac',
            str_starts_with($head, 'OggS') => 'ogg',
            default => 'mp3',
        };
    }
}
