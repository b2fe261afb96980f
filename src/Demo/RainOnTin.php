<?php

namespace Pestle\App\Demo;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Synth\StallVoices;
use Pestle\Core\Synth\StreetVoices;
use Pestle\Core\Theory\Ticks;

/**
 * "Rain on Tin": under the roof of the corner stall, 140 BPM in half-time, F minor. The kit of the rain roof drags behind
 * its bass drum; hats roll, chords come late, the bass slides from note to note.
 */
final class RainOnTin
{
    public const NAME = 'Rain on Tin';
    private const BPM = 140;
    private const ROOT = 29;
    private const DRUMS = ['groove' => 'late-cart', 'grooveTiming' => 70, 'grooveLevel' => 30];
    private const HATS = ['swing' => 57, 'scatter' => 'around', 'around' => 9, 'groove' => ''];
    private const LATE = ['shiftMs' => 14, 'timingMs' => 6, 'scatter' => 'around', 'around' => 7];

    /** @return array<string, callable(): StereoBlock> sounds by name */
    public static function sounds(int $rate): array
    {
        $voices = new StallVoices($rate);

        return [
            'Tin roof rain' => static fn (): StereoBlock => (new StreetVoices($rate))->rain(6 * 240.0 / self::BPM),
            'Window glass' => static fn (): StereoBlock => $voices->stab([53, 56, 60, 63, 67], 1.7, 1400.0),
        ];
    }

    /** @param array<string, array{hash: string, frames: int}> $samples */
    public static function beat(array $samples, KitSheet $kit): Beat
    {
        return Score::beat(self::NAME, [
            ...Score::kit($kit, self::BPM, 'F minor', 'Rain roof', 'tide'),
            // Its lowest wave lies an octave below what is written.
            Score::made('part-2', 'under-the-stairs', 'Downpipe bass'),
            ['type' => 'set', 'under' => 'part/part-2', 'glideMs' => 90, 'tuneCents' => 1200, 'filter/cutoffHz' => 1100, 'filter/driveDb' => 14],
            Score::keys('part-3', $samples['Window glass'], 'Window glass', 53),
            ['type' => 'set', 'under' => 'part/part-3', 'amp/attackMs' => 8, 'amp/decayMs' => 1500, 'amp/sustain' => 0.1, 'amp/releaseMs' => 300, 'filter/shape' => 'low-pass', 'filter/cutoffHz' => 2600, 'filter/strengthCents' => 1200, 'lfo1/target' => 'cut-off', 'lfo1/ticks' => 15360, 'lfo1/depth' => 500],
            Score::made('part-4', 'music-box', 'Cup chimes'),
            ['type' => 'set', 'under' => 'part/part-4', 'tuneCents' => -1200, 'lfo1/target' => 'pan', 'lfo1/depth' => 45, 'lfo1/ticks' => 2880],
            ...self::patterns(),
            ...Score::song([
                ['s1', 'First drops', 1, ['p1', null, 'p7', 'p8']], ['s2', 'Under the roof', 2, ['p2', 'p5', 'p7', null]], ['s3', 'Downpour', 2, ['p3', 'p5', 'p7', 'p8']],
                ['s4', 'A gap in the clouds', 1, [null, 'p6', 'p7', 'p8']], ['s5', 'Downpour again', 2, ['p4', 'p5', 'p7', 'p8']], ['s6', 'Gutter', 1, ['p9', 'p6', null, 'p8']],
            ]),
            ...self::mix(),
            // Rain before the first drum, in the gap, and when all else is over.
            Score::over('k1', 'track-1', 'Rain, left roof', $samples['Tin roof rain'], 0, ['trackName' => 'Tin roof rain', 'levelDb' => -22, 'fadeInMs' => 1500, 'fadeOutMs' => 4000, 'fadeOutShape' => 's']),
            Score::over('k2', 'track-1', 'Rain, backwards', $samples['Tin roof rain'], 19, ['levelDb' => -20, 'reversed' => 1, 'fadeInMs' => 2500, 'fadeInShape' => 'slow', 'fadeOutMs' => 400]),
            Score::over('k3', 'track-1', 'Rain, last', $samples['Tin roof rain'], 32, ['levelDb' => -22, 'fadeInMs' => 2000, 'fadeOutMs' => 4500, 'fadeOutShape' => 's']),
            ['type' => 'set-marker', 'id' => 'n1', 'name' => 'Rain stops', 'at' => 20 * Ticks::PER_BAR],
        ]);
    }

    /** @return list<array<string, mixed>> */
    private static function patterns(): array
    {
        $drums = $hats = $extra = [];
        foreach ([[0, 3, 10], [0, 7, 11], [0, 3, 10, 13], [0, 6, 14]] as $bar => $kicks) {
            foreach ($kicks as $step) {
                $drums[] = Score::hit($bar, $step, 'a0', 0 === $step ? 122 : (3 === $step ? 88 : 106));
            }
            $drums[] = Score::hit($bar, 8, 'a1', 118);
            $drums[] = Score::hit($bar, 8, 'a8', 84);
            $drums[] = Score::hit($bar, 15, 'a1', 38 + 6 * ($bar % 2));
            for ($step = 0; $step < 16; $step += 2) {
                $hats[] = match (true) {
                    6 === $step && 1 === $bar % 2 => Score::roll($bar, $step, 'a2', 84, 3),
                    14 === $step && 3 === $bar => Score::roll($bar, $step, 'a2', 92, 4),
                    14 === $step && 0 === $bar % 2 => Score::hit($bar, $step, 'a3', 76),
                    default => Score::hit($bar, $step, 'a2', 0 === $step % 4 ? 96 : 74),
                };
            }
            foreach ([5, 11] as $step) {
                $hats[] = Score::hit($bar, $step, 'a2', 52);
            }
            $extra[] = Score::hit($bar, [4, 12, 6, 10][$bar], 'a10', 72);
        }
        $extra[] = Score::hit(0, 0, 'a4', 66);
        $extra[] = Score::hit(2, 0, 'a9', 60);
        $fill = [Score::hit(3, 11, 'a5', 92), Score::hit(3, 12, 'a5', 74), Score::hit(3, 13, 'a6', 104), Score::roll(3, 15, 'a6', 96, 2)];
        $bass = $chords = $bells = [];
        // F, B flat, C, F: held under the drums, sliding into the next where it is near.
        foreach ([[0, 12], [5, 7], [7, 5], [0, 3]] as $bar => [$root, $turn]) {
            $bass[] = Score::note($bar, 0, self::ROOT + $root, 112, 2640);
            $bass[] = Score::note($bar, 10, self::ROOT + $root + (1 === $bar || 3 === $bar ? 12 : 0), 92, 960);
            $bass[] = Score::note($bar, 14, self::ROOT + $turn, 96, 480);
            $chords[] = Score::note($bar, 0, [53, 58, 60, 53][$bar], 92, 1900);
            $chords[] = Score::note($bar, 11, [53, 58, 60, 56][$bar], 66, 700);
        }
        foreach ([[0, 2, 80, 88], [0, 5, 84, 72], [0, 12, 87, 64], [1, 4, 82, 84], [1, 10, 77, 66], [2, 2, 84, 86], [2, 6, 82, 70], [2, 13, 79, 62], [3, 4, 80, 82], [3, 10, 77, 70]] as [$bar, $step, $pitch, $velocity]) {
            $bells[] = Score::note($bar, $step, $pitch, $velocity, 900);
        }

        return [
            ...self::drums('p1', 'Drops', [...array_values(array_filter($hats, static fn (array $h): bool => 0 === (int) $h[0] % 960)), ...$extra]),
            ...self::drums('p2', 'Half-time', [...$drums, ...$hats]),
            ...self::drums('p3', 'Downpour', [...$drums, ...$hats, ...$extra]),
            ...self::drums('p4', 'Downpour, turn', [...$drums, ...$hats, ...$extra, ...$fill]),
            ...Score::pattern('p5', 'Downpipe', 'part-2', $bass, 'notes', []),
            ...Score::pattern('p6', 'Downpipe, held', 'part-2', [Score::note(0, 0, self::ROOT, 96, 7000), Score::note(2, 0, self::ROOT + 7, 92, 3400), Score::note(3, 0, self::ROOT, 96, 3600)], 'notes', []),
            ...Score::pattern('p7', 'Glass', 'part-3', $chords, 'notes', self::LATE),
            ...Score::pattern('p8', 'Cups', 'part-4', $bells, 'notes', self::LATE),
            ...self::drums('p9', 'Gutter', [Score::hit(0, 0, 'a0', 116), Score::hit(0, 0, 'a4', 74), Score::hit(1, 8, 'a1', 70), Score::roll(2, 6, 'a2', 60, 4)]),
        ];
    }

    /**
     * @param list<list<int|string|null>> $hits
     *
     * @return list<array<string, mixed>>
     */
    private static function drums(string $id, string $name, array $hits): array
    {
        return [...Score::pattern($id, $name, 'part-1', $hits, 'hits', self::DRUMS), ['type' => 'set-feel', 'patterns' => [$id], 'lane' => 'a2', ...self::HATS]];
    }

    /** @return list<array<string, mixed>> */
    private static function mix(): array
    {
        // The kit's pads, then bass, chords, bells.
        $levels = ['c1' => [-12.0, 0.0], 'c2' => [-10.5, 0.0], 'c3' => [-19.0, 0.18], 'c4' => [-21.0, -0.18], 'c5' => [-12.0, 0.25], 'c6' => [-12.0, -0.2], 'c7' => [-12.0, 0.2], 'c8' => [-15.0, 0.0], 'c9' => [-14.0, -0.25], 'c10' => [-16.0, 0.3], 'c11' => [-22.5, 0.0], 'c12' => [3.0, 0.0], 'c13' => [-19.0, 0.0]];
        $bands = [['c1', 2, 'low-shelf', 80.0, -8.5, 0.71], ['c2', 4, 'high-shelf', 4500.0, -8.0, 0.71], ['c3', 4, 'high-shelf', 8000.0, -8.0, 0.71], ['c4', 4, 'high-shelf', 8000.0, -8.0, 0.71], ['c5', 4, 'high-shelf', 5000.0, -5.0, 0.71], ['c8', 4, 'high-shelf', 5000.0, -7.0, 0.71], ['c12', 2, 'peak', 260.0, 2.0, 0.7], ['c11', 1, 'high-pass', 30.0, 0.0, 0.71], ['c12', 1, 'high-pass', 170.0, 0.0, 0.71], ['c13', 1, 'high-pass', 300.0, 0.0, 0.71]];

        return [
            ...Score::mix($levels, $bands),
            ...Score::room('c11', 'c1', 7.0, 140.0),
            ...Score::room('c12', 'c1', 5.0, 180.0),
            ...Score::shared('Under the roof', 'dark-wash', ['c13' => -6.0, 'c12' => -14.0]),
            ['type' => 'set', 'under' => 'mixer/r1/inserts/i1', 'decay' => 4.0],
            ['type' => 'copy-inserts', 'node' => 'c13', 'chain' => 'dub-echo'],
            Score::press('drums/inserts/i1', -22.0, 2.5, 2.0, 90.0, 2.0),
            Score::press('master/inserts/i1', -26.0, 2.2, 2.0, 110.0, 8.0),
            ...Score::tone([['peak', 140.0, 1.5, 1.0], ['peak', 930.0, -4.5, 1.6], ['peak', 4600.0, 2.0, 0.8]]),
            ['type' => 'set', 'under' => 'mixer/master', 'gainDb' => 13.9],
            ['type' => 'set', 'under' => 'mixer/c12/inserts/i1/bands/4', 'shape' => 'high-shelf', 'hz' => 2200.0, 'on' => true],
            ...self::movements(),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function movements(): array
    {
        return [
            // The window clears with the first drops and mists over in the gutter.
            Score::moves('c12/inserts/i1/bands/4/gainDb', [[0, -18, 0.3], [4, 0], [20, 0, 1], [20.001, -10, 0.3], [24, 0], [32, 0, 0.2], [36, -18]]),
            // In the gap the roof grows, and the cups run away.
            Score::moves('r1/inserts/i1/decay', [[0, 4], [3, 9, 0.3], [4, 4]], 's4'),
            Score::moves('c13/inserts/i3/feedback', [[0, 55], [3.5, 82, 1], [3.75, 30]], 's4'),
            Score::moves('c13/inserts/i3/mix', [[0, 30], [3, 48], [4, 30]], 's4'),
            // Rain from one side to the other while only drops fall.
            Score::moves('c3/pan', [[0, -0.5], [2, 0.5], [4, -0.5]], 'p1'),
            // The pipe runs dry.
            Score::moves('c11/gainDb', [[0, -22.5, 1], [33, -22.5, 0.2], [36, -43]]),
        ];
    }
}
