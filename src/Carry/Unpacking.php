<?php

namespace Pestle\App\Carry;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\Library;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Storage\SampleCheck;
use Pestle\App\Storage\Unreadable;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Carried\ArchiveReader;
use Pestle\Core\Exchange\Carried\CarriedFile;
use Pestle\Core\Exchange\Carried\CarriedKit;
use Pestle\Core\Exchange\Carried\CarriedSample;
use Pestle\Core\Exchange\Carried\Damaged;
use Pestle\Core\Song\Part;
use Symfony\Component\Filesystem\Filesystem;

/** Takes in what was packed: all of it is looked at before any of it is taken, and what is there already is not taken twice. */
final readonly class Unpacking
{
    private const SPARE_BYTES = 200_000_000;

    public function __construct(private Beats $beats, private SampleStore $samples, private Library $library, private KitShelf $kits, private GrooveShelf $grooves, private SampleCheck $check, private DataFolder $folder)
    {
    }

    /**
     * @param string                $name as its maker knows it
     * @param callable(float): void $told takes how far it is, 0 to 1
     *
     * @throws Damaged           when nothing was taken in
     * @throws \RuntimeException when the disk is full
     */
    public function in(string $path, string $name, callable $told): Unpacked
    {
        $archive = ArchiveReader::open($path, $name);
        $free = (int) @disk_free_space($this->folder->samples());
        if ($archive->bytes() + self::SPARE_BYTES > $free) {
            throw new Damaged(\sprintf('%s takes %.1f GB, and %.1f GB are free. Clear something under "Space on the disk".', $name, $archive->bytes() / 1e9, $free / 1e9));
        }
        $beats = array_map(static fn (CarriedFile $file): Beat => self::beat($archive, $file, $name), $archive->manifest->beats);
        $work = $this->folder->incoming().'/carried-'.bin2hex(random_bytes(6));
        (new Filesystem())->mkdir($work, 0o700);
        try {
            $new = array_values(array_filter($archive->manifest->samples, fn (CarriedSample $s): bool => !$this->isThere($s)));
            foreach ($new as $n => $sample) {
                $archive->check($sample->file, "$work/$n");
                null === $sample->played || $archive->check($sample->played, "$work/$n.wav");
                $told(0.8 * ($n + 1) / \count($new));
            }
            foreach ($new as $n => $sample) {
                $this->sample($sample, $name, "$work/$n");
                $told(0.8 + 0.2 * ($n + 1) / \count($new));
            }
        } finally {
            (new Filesystem())->remove($work);
        }
        foreach ($archive->manifest->samples as $sample) {
            $this->samples->wake($sample->file->sha256);
        }
        $marks = [];
        foreach ($archive->manifest->kits as $kit) {
            $marks[$kit->mark] = $this->kit($kit);
        }
        $kept = array_column($this->grooves->all(), 'name');
        foreach ($archive->manifest->grooves as $groove) {
            \in_array($groove->name, $kept, true) || $this->grooves->keep($groove);
        }

        return new Unpacked($this->stored($beats, $marks, $name), \count($new), \count($archive->manifest->samples) - \count($new));
    }

    /** @throws Damaged */
    private static function beat(ArchiveReader $archive, CarriedFile $file, string $name): Beat
    {
        try {
            return BeatCodec::decode($archive->document($file));
        } catch (InvalidChange $e) {
            throw new Damaged(\sprintf('%s: %s cannot be used. %s Nothing of it was taken in.', $name, $file->entry, $e->getMessage()));
        }
    }

    private function isThere(CarriedSample $sample): bool
    {
        return null !== $this->samples->find($sample->file->sha256) && is_file($this->samples->library()->path($sample->file->sha256));
    }

    /** @throws Damaged */
    private function sample(CarriedSample $carried, string $name, string $path): void
    {
        try {
            $said = new Fields($carried->said);
            $sample = $this->samples->bring($path, null === $carried->played ? null : $path.'.wav', $said->has('name') ? $said->text('name', 70) : 'Sample', $carried->facts);
            $sample->also = [] === $carried->also ? null : $carried->also;
            $drum = $said->has('drum') ? $said->text('drum', 2000) : null;
            $this->library->describe($sample, $said->without('drum'));
            if (null !== $drum && \is_array(json_decode($drum, true))) {
                $sample->correct('drum', $drum);
            }
        } catch (InvalidChange|UnreadableAudio $e) {
            throw new Damaged(\sprintf('%s: %s cannot be used. %s', $name, $carried->file->entry, $e->getMessage()));
        }
    }

    /** @return string its mark here */
    private function kit(CarriedKit $carried): string
    {
        $there = $this->kits->printed($carried->sheet->named($carried->name)->print(), $carried->name);
        if (null !== $there) {
            return KitShelf::mark($there);
        }
        $kit = new ShelvedKit($carried->name);
        [$kit->tags, $kit->note] = [$carried->tags, $carried->note];

        return KitShelf::mark($this->kits->save($kit, $carried->sheet));
    }

    /**
     * @param list<Beat>            $beats
     * @param array<string, string> $marks of kits, here by there
     *
     * @return list<array{BeatRecord, bool}> and whether it came in: not where the same was there
     *
     * @throws Damaged
     */
    private function stored(array $beats, array $marks, string $name): array
    {
        foreach ($beats as $beat) {
            try {
                $this->check->changed(Beat::empty($beat->name), $beat);
            } catch (InvalidChange $e) {
                throw new Damaged(\sprintf('%s: the beat %s cannot be used. %s', $name, $beat->name, $e->getMessage()));
            }
        }
        $stored = [];
        foreach ($beats as $beat) {
            $beat = $beat->with(['parts' => array_map(static fn (Part $p): Part => $p->with(['shelf' => $marks[$p->shelf ?? ''] ?? null]), $beat->parts)]);
            $same = $this->same($beat->name, BeatCodec::encode($beat));
            $stored[] = [$same ?? $this->beats->add($beat), null === $same];
        }

        return $stored;
    }

    private function same(string $name, string $json): ?BeatRecord
    {
        foreach ($this->beats->all() as $record) {
            try {
                if ($record->name === $name && BeatCodec::encode($this->beats->content($record)) === $json) {
                    return $record;
                }
            } catch (Unreadable) {
                // What cannot be read is not the same.
            }
        }

        return null;
    }
}
