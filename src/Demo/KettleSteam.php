<?php

namespace Pestle\App\Demo;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Synth\StreetVoices;
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
    /** The low jar's own note, D. */
    private const JAR = 38;

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
            'Low jar' => static fn (): StereoBlock => $tones->bass(self::JAR),
            'Hum' => static fn (): StereoBlock => $tones->hum([[69, 0.0, 0.55], [67, 0.55, 0.35], [65, 0.9, 1.1]], 2.3),
            'Steam rising' => static fn (): StereoBlock => (new StreetVoices($rate))->steam(480.0 / self::BPM),
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
            $beat = Changes::apply(Changes::read($change), $beat);
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
        $changes[] = $fill('a10', 'Hum', 'voice');
        $changes[] = ['type' => 'set-pad', 'pad' => 'a2', 'choke' => 1];
        $changes[] = ['type' => 'set-pad', 'pad' => 'a3', 'choke' => 1];
        $changes[] = ['type' => 'set-part', 'part' => 'part-1', 'name' => 'Stall', 'colour' => 'basil'];
        $changes = [...$changes, ...self::chops($samples['Old piano loop'], $fill)];
        $changes[] = ['type' => 'add-part', 'id' => 'part-3', 'name' => 'Low jar', 'sample' => $samples['Low jar']['hash'], 'start' => 0, 'end' => $samples['Low jar']['frames'], 'rootCents' => 100 * self::JAR];
        // One note at a time, let go softly.
        $changes[] = ['type' => 'set', 'under' => 'part/part-3', 'single' => 1, 'amp/releaseMs' => 70, 'glideMs' => 30];

        return [...$changes, ...self::patterns(), ...self::song(), ...self::mix(), ...self::over($samples)];
    }

    /**
     * The chops, a kit of their own: four chords under the left hand, their answers under the right; one silences the other.
     *
     * @param array{hash: string, frames: int}                               $loop
     * @param callable(string, string, string, string): array<string, mixed> $fill
     *
     * @return list<array<string, mixed>>
     */
    private static function chops(array $loop, callable $fill): array
    {
        $changes = [['type' => 'add-part', 'id' => 'part-2', 'name' => 'Old piano'], ['type' => 'name-bank', 'bank' => 'b', 'name' => 'Chords']];
        $markers = [];
        $bar = $loop['frames'] / self::BARS;
        foreach (['Dm9', 'Bbmaj7', 'Gm9', 'A7'] as $i => $chord) {
            $start = (int) round($i * $bar);
            $middle = (int) round(($i + 0.625) * $bar);
            $end = (int) round(($i + 1) * $bar);
            array_push($markers, $start, $middle);
            $changes[] = [...$fill('b'.$i, 'Old piano loop', 'tonal', $chord), 'start' => $start, 'end' => $middle];
            $changes[] = [...$fill('b'.(4 + $i), 'Old piano loop', 'tonal', $chord.' answer'), 'start' => $middle, 'end' => $end];
            foreach (['b'.$i, 'b'.(4 + $i)] as $pad) {
                $changes[] = ['type' => 'set-pad', 'pad' => $pad, 'channel' => 'c8', 'choke' => 2, 'mode' => 'held'];
            }
        }
        $changes[] = ['type' => 'set-node', 'node' => 'c8', 'name' => 'Chords'];
        $changes[] = ['type' => 'set-slices', 'sample' => $loop['hash'], 'markers' => $markers, 'how' => 'hand'];

        return $changes;
    }

    /** @return list<array<string, mixed>> */
    private static function patterns(): array
    {
        $drums = $extras = [];
        for ($bar = 0; $bar < 2; ++$bar) {
            $odd = 1 === $bar;
            foreach ([[0, 120], [6, 92], [10, 106], ...($odd ? [[9, 52], [15, 66]] : [])] as [$step, $velocity]) {
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
        $twice = [...$drums, ...$extras];
        foreach ($twice as [$tick, $pad, $velocity, $length]) {
            $twice[] = [$tick + 2 * Ticks::PER_BAR, $pad, $velocity, $length];
        }
        $lifted = [...$twice, self::hit(0, 0, 'a9', 60), self::hit(1, 8, 'a10', 84, 1920), self::hit(3, 8, 'a10', 78, 1920)];
        // The turn: the snare runs up over the last beat.
        $turn = [...$lifted, self::hit(3, 13, 'a1', 64), self::hit(3, 14, 'a1', 84), self::hit(3, 15, 'a1', 104), self::hit(3, 8, 'a0', 96)];
        $break = [self::hit(0, 0, 'a9', 74), self::hit(1, 8, 'a10', 92, 1920), self::hit(2, 0, 'a9', 52), self::hit(3, 8, 'a10', 86, 1920)];

        $chords = $intro = [];
        for ($bar = 0; $bar < 4; ++$bar) {
            [$chord, $answer] = ['b'.$bar, 'b'.(4 + $bar)];
            // From the second bar on the chord comes in a sixteenth pair early, over the bar line.
            $chords[] = 0 === $bar ? self::hit(0, 0, $chord, 112, 6 * 240) : self::hit($bar - 1, 14, $chord, 104, 8 * 240);
            $chords[] = self::hit($bar, 6, $answer, 92, 4 * 240 + 120);
            $intro[] = self::hit($bar, 0, $chord, 2 === $bar ? 74 : 80, 10 * 240);
            $intro[] = self::hit($bar, 10, $answer, 80, 6 * 240);
        }
        $chords[] = self::hit(3, 11, 'b5', 78, 2 * 240);
        $last = [self::hit(0, 0, 'b2', 92, 10 * 240), self::hit(0, 10, 'b6', 80, 6 * 240), self::hit(1, 0, 'b3', 84, 10 * 240), self::hit(1, 10, 'b7', 84, 6 * 240), self::hit(2, 0, 'b0', 108, 32 * 240)];

        // D, B flat, G, A; approached from a semitone or a fifth away.
        $bass = $slow = [];
        foreach ([[self::JAR, 45], [self::JAR - 4, 41], [self::JAR - 7, 38], [self::JAR - 5, 37]] as $bar => [$root, $next]) {
            array_push($bass, self::note($bar, 0, $root, 106, 840), self::note($bar, 6, $root, 84, 600), self::note($bar, 10, $root, 98, 420), self::note($bar, 13, $root + 12, 62, 200));
            $bass[] = self::note($bar, 15, $next, 72, 210);
            $slow[] = self::note($bar, 0, $root, 70, 14 * 240);
        }

        return [
            ...self::pattern('p1', 'Stall', 'part-1', 2, $drums),
            ...self::pattern('p2', 'Stall, lifted', 'part-1', 4, $lifted),
            ...self::pattern('p3', 'Stall, turn', 'part-1', 4, $turn),
            ...self::pattern('p4', 'Hum and ring', 'part-1', 4, $break),
            ...self::pattern('p5', 'Chords', 'part-2', 4, $chords),
            ...self::pattern('p6', 'Chords, before opening', 'part-2', 4, $intro),
            ...self::pattern('p7', 'Chords, last', 'part-2', 4, $last),
            ...self::pattern('p8', 'Jar', 'part-3', 4, $bass, 'notes'),
            ...self::pattern('p9', 'Jar, slow', 'part-3', 4, $slow, 'notes'),
            ...self::pattern('p10', 'Jar, last', 'part-3', 4, [self::note(0, 0, self::JAR - 7, 92, 14 * 240), self::note(1, 0, self::JAR - 5, 92, 14 * 240), self::note(2, 0, self::JAR, 100, 30 * 240)], 'notes'),
        ];
    }

    /**
     * @param list<list<int|string>> $events
     *
     * @return list<array<string, mixed>>
     */
    private static function pattern(string $id, string $name, string $part, int $bars, array $events, string $what = 'hits'): array
    {
        return [
            'p1' === $id ? ['type' => 'set-pattern', 'pattern' => 'p1', 'name' => $name] : ['type' => 'add-pattern', 'id' => $id, 'name' => $name, 'part' => $part],
            ['type' => 'set-pattern', 'pattern' => $id, 'bars' => $bars],
            ['type' => 'set-feel', 'patterns' => [$id], 'swing' => 58],
            ['type' => 'edit-'.$what, 'pattern' => $id, $what => $events],
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function song(): array
    {
        return Score::song([
            ['s1', 'Opening', 1, [null, 'p6', null]],
            ['s2', 'First', 2, ['p1', 'p5', 'p8']],
            ['s3', 'Lifted', 2, ['p2', 'p5', 'p8']],
            ['s4', 'Break', 1, ['p4', 'p6', 'p9']],
            ['s5', 'Return', 2, ['p3', 'p5', 'p8']],
            ['s6', 'Ending', 1, [null, 'p7', 'p10']],
        ]);
    }

    /** @return list<array<string, mixed>> */
    private static function mix(): array
    {
        $changes = [];
        $levels = ['c1' => [-11.2, 0.0], 'c2' => [-6.4, 0.0], 'c3' => [-16.8, 0.22], 'c4' => [-17.4, -0.2], 'c5' => [-13.0, -0.1], 'c6' => [-19.0, 0.35], 'c7' => [-13.0, 0.0], 'c8' => [-4.3, 0.0], 'c9' => [-17.2, 0.0]];
        foreach ($levels as $channel => [$gain, $pan]) {
            $changes[] = ['type' => 'set', 'under' => 'mixer/'.$channel, 'gainDb' => $gain, 'pan' => $pan];
        }
        $band = static fn (string $channel, int $n, string $shape, float $hz, float $gain = 0.0, float $q = 0.71): array => ['type' => 'set', 'under' => 'mixer/'.$channel.'/inserts/i1/bands/'.$n, 'shape' => $shape, 'hz' => $hz, 'gainDb' => $gain, 'q' => $q, 'on' => true];
        $press = static fn (string $insert, float $threshold, float $ratio, float $attack, float $release, float $makeup = 0.0): array => ['type' => 'set', 'under' => 'mixer/'.$insert, 'on' => true, 'thresholdDb' => $threshold, 'ratio' => $ratio, 'attackMs' => $attack, 'releaseMs' => $release, 'makeupDb' => $makeup];

        return [
            ...$changes,
            $band('c1', 3, 'peak', 260.0, -1.0, 1.0),
            $band('c2', 1, 'high-pass', 110.0),
            $band('c2', 4, 'high-shelf', 3500.0, -6.0),
            $band('c3', 4, 'high-shelf', 8000.0, -3.0),
            $band('c1', 4, 'high-shelf', 3000.0, -4.0),
            $band('c8', 1, 'high-pass', 140.0),
            $band('c8', 3, 'peak', 900.0, 2.2, 0.7),
            $band('c8', 4, 'high-shelf', 2600.0),
            $band('c9', 1, 'high-pass', 42.0),
            $band('c9', 3, 'peak', 180.0, 4.0, 0.8),
            $band('c7', 1, 'high-pass', 180.0),
            $press('c8/inserts/i2', -26.0, 2.3, 0.1, 140.0, 6.0),
            $press('c9/inserts/i2', -18.0, 3.0, 6.0, 120.0, 1.0),
            $press('drums/inserts/i1', -16.0, 2.0, 4.0, 90.0),
            $press('master/inserts/i1', -19.0, 2.3, 0.5, 110.0, 3.2),
            ['type' => 'set', 'mixer/master/inserts/i1/aheadMs' => 2.0],
            // Chords and jar make room for the low mortar, so that the limiter need not.
            ...Score::room('c8', 'c1', 3.0, 100.0),
            ...Score::room('c9', 'c1', 6.0, 110.0),
            ...Score::shared('Market hall', 'small-room', ['c2' => -12.0, 'c5' => -8.0, 'c6' => -10.0]),
            ['type' => 'add-insert', 'node' => 'c7', 'kind' => 'delay'],
            ['type' => 'set', 'under' => 'mixer/c7/inserts/i3', 'time' => 'straight', 'sixteenths' => 3, 'feedback' => 30.0, 'mix' => 22.0],
            ...Score::tone([['peak', 140.0, 2.0, 1.0], ['peak', 330.0, -3.0, 2.0], ['high-shelf', 5000.0, -1.5, 0.71]]),
            ['type' => 'set', 'under' => 'mixer/master', 'gainDb' => 13.1],
            // Peaks near -10 dBFS before the master.
            ['type' => 'stage-gains', 'byDb' => 2.0],
            ...self::movements(),
        ];
    }

    /**
     * Steam rises into what is fuller, and the piano turns round before the break.
     *
     * @param array<string, array{hash: string, frames: int}> $samples
     *
     * @return list<array<string, mixed>>
     */
    private static function over(array $samples): array
    {
        $piano = $samples['Old piano loop'];

        return [
            Score::over('k1', 'track-1', 'Steam rising', $samples['Steam rising'], 10, ['levelDb' => -10]),
            Score::over('k2', 'track-1', 'Steam, longer', $samples['Steam rising'], 22, ['levelDb' => -8]),
            Score::over('k3', 'track-2', 'Piano, backwards', $piano, 18, ['trackName' => 'Piano, turned', 'to' => intdiv($piano['frames'], 2), 'levelDb' => -9, 'reversed' => 1, 'fadeInMs' => 3500, 'fadeInShape' => 'slow', 'fadeOutMs' => 60]),
            Score::over('k4', 'track-3', 'Hum, far off', $samples['Hum'], 34, ['trackName' => 'Stall-holder', 'levelDb' => -14, 'fadeInMs' => 300, 'fadeOutMs' => 900]),
            ['type' => 'set-marker', 'id' => 'n1', 'name' => 'Lid lifted', 'at' => 12 * Ticks::PER_BAR],
            ['type' => 'set-marker', 'id' => 'n2', 'name' => 'Off the fire', 'at' => 34 * Ticks::PER_BAR],
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function movements(): array
    {
        return [
            // The piano opens with the song, thins for the break and closes at the end.
            Score::moves('c8/inserts/i1/bands/4/gainDb', [[0, -16, 0.3], [4, -0.8], [18, -0.8, 0.2], [20, -8, 0.3], [24, -0.8], [33, -0.8, 0.3], [36, -18]]),
            // The last snare before the break goes into the hall.
            Score::moves('c2/sends/r1/gainDb', [[0, -12, 1], [19.5, -12, 0.2], [20, 0, 1], [20.01, -12]]),
            // The hall grows while only hands and hum are left.
            Score::moves('r1/inserts/i1/decay', [[0, 0.5], [2, 0.5, 0.4], [4, 2.2]], 's4'),
            Score::moves('c7/inserts/i3/mix', [[0, 22], [4, 46]], 's4'),
            // The shaker wanders while the drums are lifted.
            Score::moves('c3/pan', [[0, 0.22], [1, -0.3], [2, 0.3], [3, -0.22], [4, 0.22]], 'p2'),
            // The jar steps back as the kettle comes off the fire.
            Score::moves('c9/gainDb', [[0, -15.2, 1], [34, -15.2, 0.2], [36, -34]]),
        ];
    }

    /** @return array{int, int, int, int} */
    private static function note(int $bar, int $step, int $pitch, int $velocity, int $length): array
    {
        return [$bar * Ticks::PER_BAR + $step * Ticks::PER_STEP, $pitch, $velocity, $length];
    }

    /** @return array{int, string, int, int} */
    private static function hit(int $bar, int $step, string $pad, int $velocity, int $length = 240, int $lateTicks = 0): array
    {
        return [$bar * Ticks::PER_BAR + $step * Ticks::PER_STEP + $lateTicks, $pad, $velocity, $length];
    }
}
