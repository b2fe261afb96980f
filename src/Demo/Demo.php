<?php

namespace Pestle\App\Demo;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;

/** Puts the demo's sounds into the library, its kits onto the shelf and its beats into the list. */
final readonly class Demo
{
    public function __construct(private Beats $beats, private SampleStore $samples, private KitShelf $shelf, private DataFolder $folder)
    {
    }

    /** @param callable(string): void $say */
    public function kettleSteam(callable $say): BeatRecord
    {
        return $this->beats->add(KettleSteam::beat($this->made(KettleSteam::sounds(Beat::SAMPLE_RATE), $say)), true);
    }

    /** @param callable(string): void $say */
    public function tramAtTen(callable $say): BeatRecord
    {
        return $this->beats->add(TramAtTen::beat($this->made(TramAtTen::sounds(Beat::SAMPLE_RATE), $say), $this->kits($say)['Tram stop']), true);
    }

    /** @param callable(string): void $say */
    public function rainOnTin(callable $say): BeatRecord
    {
        return $this->beats->add(RainOnTin::beat($this->made(RainOnTin::sounds(Beat::SAMPLE_RATE), $say), $this->kits($say)['Rain roof']), true);
    }

    /** Whether one of the kits of the stalls is not on the shelf. Their sounds take a while to make. */
    public function lacksKits(): bool
    {
        return [] !== array_filter(array_keys(StallKits::TAGS), fn (string $name): bool => null === $this->shelf->named($name));
    }

    /**
     * The kits of the stalls; those that are on the shelf already stay as they are.
     *
     * @param callable(string): void $say
     *
     * @return array<string, \Pestle\Core\Beat\KitSheet>
     */
    public function kits(callable $say): array
    {
        $kits = StallKits::kits($this->made(StallKits::sounds(Beat::SAMPLE_RATE), $say));
        foreach ($kits as $name => $sheet) {
            if (null === $this->shelf->named($name)) {
                $kit = new ShelvedKit($name, true);
                $kit->tags = StallKits::TAGS[$name] ?? [];
                $this->shelf->save($kit, $sheet);
            }
        }

        return $kits;
    }

    /**
     * @param array<string, callable(): StereoBlock> $sounds
     * @param callable(string): void                 $say
     *
     * @return array<string, array{hash: string, frames: int, loudness: float}>
     */
    private function made(array $sounds, callable $say): array
    {
        $samples = [];
        foreach ($sounds as $name => $make) {
            $say('  making '.$name);
            $path = $this->folder->incoming().'/demo-'.bin2hex(random_bytes(4));
            $sound = $make();
            $writer = new WavWriter($path, Beat::SAMPLE_RATE, SampleFormat::Int24);
            $writer->write($sound);
            $writer->close();
            $sample = $this->samples->add($path, $name.'.wav');
            unlink($path);
            $samples[$name] = ['hash' => $sample->hash, 'frames' => $sample->frames, 'loudness' => StallKits::loudness($sound, Beat::SAMPLE_RATE)];
        }

        return $samples;
    }
}
