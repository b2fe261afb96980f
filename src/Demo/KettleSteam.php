<?php

namespace Pestle\App\Demo;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Synth\TonalVoices;
use Pestle\Core\Theory\Ticks;

/**
 * "Kettle Steam": the tea stall's beat on Lantern Street, 86 BPM in D minor. Its sounds are made here,
 * the beat is put together by the same changes a maker makes.
 */
final class KettleSteam
{
    public const NAME = 'Kettle Steam';
    private const BPM = 86.0;
    private const BARS = 4;

    /** @return array<string, callable(): StereoBlock> sounds by name */
    public static function sounds(int $rate): array
    {
        $drums = new DrumVoices($rate);
        $tones = new TonalVoices($rate);

        return [
            'Mortar low' => static fn (): StereoBlock => $drums->kick(),
            'Tin snare' => static fn (): StereoBlock => $drums->snare(),
            'Rice shaker' => static fn (): StereoBlock => $drums->shaker(),
            'Steam hat' => static fn (): StereoBlock => $drums->openHat(),
            'Hands' => static fn (): StereoBlock => $drums->clap(),
            'Ladle ring' => static fn (): StereoBlock => $drums->ring(),
            'Low jar' => static fn (): StereoBlock => $tones->bass(38),
            'Hum' => static fn (): StereoBlock => $tones->hum([[69, 0.0, 0.55], [67, 0.55, 0.35], [65, 0.9, 1.1]], 2.3),
            'Old piano loop' => static fn (): StereoBlock => (new OldPiano($rate))->recording(self::pianoNotes(), self::loopSeconds()),
        ];
    }

    public static function loopSeconds(): float
    {
        return self::BARS * 240.0 / self::BPM;
    }

    /**
     * @param array<string, array{hash: string, frames: int}> $samples by name of the sound
     */
    public static function beat(array $samples): Beat
    {
        $beat = Beat::empty(self::NAME);
        foreach (self::changes($samples) as $change) {
            $beat = Changes::read($change)->apply($beat);
        }

        return $beat;
    }

    /**
     * Dm9, Bbmaj7, Gm9, A7(#5): each struck on the one and answered on the "and" of three.
     *
     * @return list<array{int, float, float, int}>
     */
    private static function pianoNotes(): array
    {
        $chords = [[38, 53, 57, 60, 64, 65], [34, 50, 57, 58, 62, 64], [31, 53, 58, 62, 57, 62], [33, 55, 61, 65, 58, 61]];
        $answers = [[57, 60, 64, 69], [57, 62, 65, 69], [58, 62, 65, 70], [55, 61, 65, 67]];
        $beatSeconds = 60.0 / self::BPM;
        $notes = [];
        foreach ($chords as $bar => $chord) {
            $start = $bar * 4 * $beatSeconds + 0.012;
            foreach ($chord as $i => $note) {
                $notes[] = [$note + (0 === $i ? 12 : 0), $start + 0.011 * $i, 2.45 * $beatSeconds, 84 + [10, -6, -10, -4, 2, 12][$i]];
            }
            foreach ($answers[$bar] as $i => $note) {
                $notes[] = [$note, $start + 2.5 * $beatSeconds + 0.008 * $i, 1.4 * $beatSeconds, 66 + [-4, 0, 3, 9][$i]];
            }
        }

        return $notes;
    }

    /**
     * @param array<string, array{hash: string, frames: int}> $samples
     *
     * @return list<array<string, mixed>>
     */
    private static function changes(array $samples): array
    {
        $fill = static fn (string $pad, string $sound, string $role, ?string $name = null): array => [
            'type' => 'fill-pad', 'pad' => $pad, 'sample' => $samples[$sound]['hash'], 'name' => $name ?? $sound,
            'role' => $role, 'start' => 0, 'end' => $samples[$sound]['frames'],
        ];
        $changes = [
            ['type' => 'set-tempo', 'bpm' => self::BPM],
            ['type' => 'set-key', 'key' => 'D minor'],
            ['type' => 'name-bank', 'bank' => 'a', 'name' => 'Stall'],
            $fill('a0', 'Mortar low', 'kick'),
            $fill('a1', 'Tin snare', 'snare'),
            $fill('a2', 'Rice shaker', 'hat'),
            $fill('a3', 'Steam hat', 'open-hat'),
            $fill('a8', 'Hands', 'clap'),
            $fill('a9', 'Ladle ring', 'cymbal'),
        ];
        $changes = [...$changes, ...self::chops($samples['Old piano loop'], $fill)];
        foreach ([12 => ['D', 0], 13 => ['Bb', 800], 14 => ['G', 500], 15 => ['A', 700]] as $place => [$note, $cents]) {
            $changes[] = $fill('a'.$place, 'Low jar', 'bass', 'Low jar '.$note);
            // From B flat and G the jar is nearer an octave below.
            $changes[] = ['type' => 'set-pad', 'pad' => 'a'.$place, 'channel' => 'c8', 'mode' => 'held', 'choke' => 3, 'tuneCents' => $cents > 600 ? $cents - 1200 : $cents];
        }
        $changes[] = ['type' => 'set-channel', 'channel' => 'c8', 'name' => 'Low jar'];
        $changes[] = $fill('a10', 'Hum', 'voice');
        $changes[] = ['type' => 'set-pad', 'pad' => 'a2', 'choke' => 1];
        $changes[] = ['type' => 'set-pad', 'pad' => 'a3', 'choke' => 1];

        return [...$changes, ...self::patterns(), ...self::mix()];
    }

    /**
     * The chops: four chords on the upper right hand, their answers on bank B; one silences the other.
     *
     * @param array{hash: string, frames: int}                               $loop
     * @param callable(string, string, string, string): array<string, mixed> $fill
     *
     * @return list<array<string, mixed>>
     */
    private static function chops(array $loop, callable $fill): array
    {
        $changes = [['type' => 'name-bank', 'bank' => 'b', 'name' => 'Answers']];
        $markers = [];
        $bar = $loop['frames'] / self::BARS;
        foreach (['Dm9', 'Bbmaj7', 'Gm9', 'A7'] as $i => $chord) {
            $start = (int) round($i * $bar);
            $middle = (int) round(($i + 0.625) * $bar);
            $end = (int) round(($i + 1) * $bar);
            array_push($markers, $start, $middle);
            $changes[] = [...$fill('a'.(4 + $i), 'Old piano loop', 'tonal', $chord), 'start' => $start, 'end' => $middle];
            $changes[] = [...$fill('b'.$i, 'Old piano loop', 'tonal', $chord.' answer'), 'start' => $middle, 'end' => $end];
            foreach (['a'.(4 + $i), 'b'.$i] as $pad) {
                $changes[] = ['type' => 'set-pad', 'pad' => $pad, 'channel' => 'c7', 'choke' => 2, 'mode' => 'held'];
            }
        }
        $changes[] = ['type' => 'set-channel', 'channel' => 'c7', 'name' => 'Chords'];
        $changes[] = ['type' => 'set-slices', 'sample' => $loop['hash'], 'markers' => $markers, 'how' => 'hand'];

        return $changes;
    }

    /** @return list<array<string, mixed>> */
    private static function patterns(): array
    {
        $drums = $extras = $music = $intro = [];
        for ($bar = 0; $bar < 4; ++$bar) {
            $odd = 1 === $bar % 2;
            foreach ([[0, 118], [6, 96], [10, 110], ...($odd ? [[9, 52], [15, 66]] : [])] as [$step, $velocity]) {
                $drums[] = self::hit($bar, $step, 'a0', $velocity);
            }
            foreach ([[4, 112, 11], [12, 116, 11], [11, 36, 9], ...($odd ? [[15, 44, 9]] : [[3, 31, 9]])] as [$step, $velocity, $late]) {
                $drums[] = self::hit($bar, $step, 'a1', $velocity, 240, $late);
            }
            for ($step = 0; $step < 16; ++$step) {
                // The last sixteenth leaves room for the hat.
                if (!$odd || 14 !== $step) {
                    $drums[] = self::hit($bar, $step, 'a2', [92, 42, 70, 42][$step % 4] - (0 === $step ? 6 : 0));
                }
            }
            if ($odd) {
                $drums[] = self::hit($bar, 14, 'a3', 84);
            }
            foreach ([[4, 70], [12, 88]] as [$step, $velocity]) {
                $extras[] = self::hit($bar, $step, 'a8', $velocity, 240, 5);
            }
            foreach ([2, 6, 10] as $step) {
                $extras[] = self::hit($bar, $step, 'a3', 58);
            }
        }
        $drums[] = self::hit(0, 0, 'a9', 60);
        foreach ([['a4', 'b0'], ['a5', 'b1'], ['a6', 'b2'], ['a7', 'b3']] as $bar => [$chord, $answer]) {
            // From the second bar on the chord comes in a sixteenth pair early, over the bar line.
            $music[] = 0 === $bar ? self::hit(0, 0, $chord, 112, 6 * 240) : self::hit($bar - 1, 14, $chord, 104, 8 * 240);
            $music[] = self::hit($bar, 6, $answer, 92, 4 * 240 + 120);
            $intro[] = self::hit($bar, 0, $chord, 110, 10 * 240);
            $intro[] = self::hit($bar, 10, $answer, 92, 6 * 240);
        }
        $music[] = self::hit(3, 11, 'b1', 78, 2 * 240);
        foreach (['a12', 'a13', 'a14', 'a15'] as $bar => $root) {
            array_push($music, self::hit($bar, 0, $root, 108, 840), self::hit($bar, 6, $root, 88, 600), self::hit($bar, 10, $root, 100, 420));
        }
        // A, a semitone under B flat, leads to it.
        $music[] = self::hit(0, 15, 'a15', 76, 200);
        $hum = [self::hit(1, 8, 'a10', 84, 1920), self::hit(3, 8, 'a10', 78, 1920)];
        $loop = [...$drums, ...$music];

        return [
            ['type' => 'set-pattern', 'pattern' => 'p1', 'name' => 'Main'],
            ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4],
            ['type' => 'set-pattern', 'pattern' => 'p1', 'swing' => 58],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $loop],
            ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Main, lifted', 'copyOf' => 'p1'],
            ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [...$extras, ...$hum]],
            ['type' => 'add-pattern', 'id' => 'p3', 'name' => 'Before opening'],
            ['type' => 'set-pattern', 'pattern' => 'p3', 'bars' => 4],
            ['type' => 'edit-hits', 'pattern' => 'p3', 'hits' => $intro],
            ['type' => 'set-order', 'parts' => [
                ['pattern' => 'p3', 'repeats' => 1], ['pattern' => 'p1', 'repeats' => 2], ['pattern' => 'p2', 'repeats' => 2],
                ['pattern' => 'p1', 'repeats' => 1], ['pattern' => 'p2', 'repeats' => 1], ['pattern' => 'p3', 'repeats' => 1],
            ]],
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function mix(): array
    {
        $changes = [];
        $levels = ['c1' => [-6.8, 0.0], 'c2' => [-7.0, 0.0], 'c3' => [-18.0, 0.22], 'c4' => [-18.0, -0.2], 'c5' => [-14.0, -0.1], 'c6' => [-19.0, 0.35], 'c7' => [0.5, 0.0], 'c8' => [-13.0, 0.0], 'c9' => [-13.0, 0.0]];
        foreach ($levels as $channel => [$gain, $pan]) {
            $changes[] = ['type' => 'set-channel', 'channel' => $channel, 'gainDb' => $gain, 'pan' => $pan];
        }
        $band = static fn (string $channel, int $n, string $shape, float $hz, float $gain = 0.0, float $q = 0.71): array => [
            'type' => 'set-eq-band', 'channel' => $channel, 'band' => $n, 'shape' => $shape, 'hz' => $hz, 'gainDb' => $gain, 'q' => $q, 'on' => true,
        ];
        $press = static fn (string $target, float $threshold, float $ratio, float $attack, float $release, float $makeup = 0.0): array => [
            'type' => 'set-compressor', 'target' => $target, 'on' => true, 'thresholdDb' => $threshold, 'ratio' => $ratio,
            'attackMs' => $attack, 'releaseMs' => $release, 'makeupDb' => $makeup,
        ];

        return [
            ...$changes,
            $band('c1', 3, 'peak', 260.0, -3.0, 1.0),
            $band('c2', 1, 'high-pass', 110.0),
            $band('c2', 4, 'high-shelf', 3500.0, -6.0),
            $band('c3', 4, 'high-shelf', 8000.0, -3.0),
            $band('c1', 4, 'high-shelf', 3000.0, -4.0),
            $band('c7', 1, 'high-pass', 140.0),
            $band('c7', 2, 'low-shelf', 260.0, -2.5),
            $band('c7', 3, 'peak', 900.0, 2.0, 0.7),
            $band('c8', 1, 'high-pass', 34.0),
            $band('c8', 3, 'peak', 160.0, 3.0, 0.8),
            $band('c9', 1, 'high-pass', 180.0),
            $press('c7', -20.0, 2.0, 15.0, 160.0, 2.0),
            $press('c8', -16.0, 3.0, 12.0, 120.0),
            $press('drums', -14.0, 2.0, 20.0, 120.0),
            $press('master', -12.0, 1.5, 30.0, 200.0),
            ['type' => 'set-master', 'gainDb' => 11.0],
        ];
    }

    /** @return array{int, string, int, int} */
    private static function hit(int $bar, int $step, string $pad, int $velocity, int $length = 240, int $lateTicks = 0): array
    {
        return [$bar * Ticks::PER_BAR + $step * Ticks::PER_STEP + $lateTicks, $pad, $velocity, $length];
    }
}
