<?php

namespace Pestle\App\Demo;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Synth\StallVoices;
use Pestle\Core\Synth\StreetVoices;

/**
 * "Tram at Ten": the last tram on Lantern Street, 124 BPM in A minor, four on the floor. It is played on the kit of the
 * tram stop; a bass, stabs and a bell are instruments.
 */
final class TramAtTen
{
    public const NAME = 'Tram at Ten';
    private const BPM = 124;
    private const ROOT = 33;
    private const FEEL = ['swing' => 52];

    /** @return array<string, callable(): StereoBlock> sounds by name */
    public static function sounds(int $rate): array
    {
        $voices = new StallVoices($rate);

        return [
            'Tram passing' => static fn (): StereoBlock => (new StreetVoices($rate))->tram(960.0 / self::BPM),
            'Window stab' => static fn (): StereoBlock => $voices->stab([57, 60, 64, 67], 0.9, 1900.0),
            'Stop bell' => static fn (): StereoBlock => $voices->struck(880.0, [[1.0, 1.0, 1.3], [2.0, 0.3, 0.7], [3.01, 0.25, 0.5], [4.2, 0.1, 0.3]], 0.03, 0.5),
        ];
    }

    /** @param array<string, array{hash: string, frames: int}> $samples */
    public static function beat(array $samples, KitSheet $kit): Beat
    {
        return Score::beat(self::NAME, [
            ...Score::kit($kit, self::BPM, 'A minor', 'Tram stop', 'turmeric'),
            Score::made('part-2', 'iron-gate', 'Wire bass'),
            ['type' => 'set', 'under' => 'part/part-2', 'tuneCents' => 1200, 'filter/cutoffHz' => 480],
            Score::keys('part-3', $samples['Window stab'], 'Window stabs', 57),
            ['type' => 'set', 'under' => 'part/part-3', 'amp/decayMs' => 420, 'amp/sustain' => 0, 'amp/releaseMs' => 120, 'amp/releaseBend' => 0.5, 'filter/shape' => 'low-pass', 'filter/cutoffHz' => 2400, 'filter/envelopeCents' => 2600, 'filter/decayMs' => 220, 'filter/strengthCents' => 1400, 'lfo1/target' => 'cut-off', 'lfo1/ticks' => 7680, 'lfo1/depth' => 300],
            Score::made('part-4', 'bell-cart', 'Bell cart'),
            ['type' => 'set', 'under' => 'part/part-4', 'tuneCents' => -1200, 'lfo1/target' => 'pan', 'lfo1/depth' => 40, 'lfo1/ticks' => 3840],
            ...self::patterns(),
            ...Score::song([['s1', 'Waiting', 1, ['p1', null, 'p7', 'p8']], ['s2', 'Doors', 2, ['p2', 'p5', null, null]], ['s3', 'Rolling', 2, ['p3', 'p5', 'p6', null]], ['s4', 'Tunnel', 1, [null, null, 'p7', 'p8']], ['s5', 'Market', 3, ['p4', 'p5', 'p6', 'p8']], ['s6', 'Last stop', 1, ['p9', 'p10', 'p7', null]]]),
            ...self::mix(),
            // The tram comes by where the drums stop, a bell is rung before it, and it leaves.
            Score::over('k1', 'track-1', 'Tram, passing', $samples['Tram passing'], 20, ['trackName' => 'Tram', 'levelDb' => -12]),
            Score::over('k2', 'track-2', 'Bell, backwards', $samples['Stop bell'], 19, ['trackName' => 'Bell', 'levelDb' => -14, 'reversed' => 1, 'fadeInMs' => 600, 'fadeOutMs' => 20]),
            Score::over('k3', 'track-1', 'Tram, leaving', $samples['Tram passing'], 38, ['levelDb' => -12, 'from' => intdiv($samples['Tram passing']['frames'], 3), 'fadeInMs' => 400]),
        ]);
    }

    /** @return list<array<string, mixed>> */
    private static function patterns(): array
    {
        $kick = $hats = $claps = $rails = [];
        for ($bar = 0; $bar < 4; ++$bar) {
            foreach ([0, 4, 8, 12] as $step) {
                $kick[] = Score::hit($bar, $step, 'a0', 0 === $step ? 122 : 114);
            }
            foreach ([4, 12] as $step) {
                $claps[] = Score::hit($bar, $step, 'a1', 12 === $step ? 112 : 104);
            }
            for ($step = 0; $step < 16; ++$step) {
                $hats[] = 2 === $step % 4 ? Score::hit($bar, $step, 'a3', 88) : Score::hit($bar, $step, 'a2', [78, 46, 50, 60][$step % 4]);
            }
            foreach (0 === $bar % 2 ? [3, 11] : [3, 6, 11, 14] as $step) {
                $rails[] = Score::hit($bar, $step, 11 === $step ? 'a6' : 'a5', 70 + 6 * ($step % 3));
            }
        }
        $rails[] = Score::hit(0, 0, 'a4', 64);
        $fill = [Score::hit(3, 12, 'a8', 92), Score::hit(3, 13, 'a8', 80), Score::hit(3, 14, 'a9', 98), Score::hit(3, 15, 'a9', 110)];
        $lifted = [...$kick, ...$claps, ...$hats, ...$rails, Score::hit(1, 15, 'a10', 52), Score::hit(3, 7, 'a10', 48)];
        $bass = $stabs = $bell = $pads = [];
        // A, F, C, G: the root on the off-beats, a climb into the next.
        foreach ([[0, -5], [-4, 3], [3, -2], [-2, 2]] as $bar => [$root, $next]) {
            foreach ([2, 6, 10, 14] as $i => $step) {
                $bass[] = Score::note($bar, $step, self::ROOT + $root + (1 === $i ? 12 : 0), [104, 84, 100, 92][$i], 1 === $i ? 200 : 360);
            }
            $bass[] = Score::note($bar, 15, self::ROOT + $root + ($next > 0 ? 2 : -1), 70, 180);
            foreach (0 === $bar % 2 ? [3, 9] : [3, 6, 11] as $step) {
                $stabs[] = Score::note($bar, $step, [57, 53, 60, 55][$bar], 3 === $step ? 104 : 82, 300);
            }
            $pads[] = Score::note($bar, 0, [57, 53, 60, 55][$bar], 56, 3000);
        }
        foreach ([[0, 0, 76], [0, 6, 72], [1, 4, 69], [2, 0, 79], [2, 10, 76], [3, 6, 74]] as [$bar, $step, $pitch]) {
            $bell[] = Score::note($bar, $step, $pitch, 68, 960);
        }

        return [
            ...Score::pattern('p1', 'Rails', 'part-1', [...$hats, ...$rails], 'hits', self::FEEL),
            ...Score::pattern('p2', 'Four on the floor', 'part-1', [...$kick, ...$claps, ...$hats], 'hits', self::FEEL),
            ...Score::pattern('p3', 'Full car', 'part-1', $lifted, 'hits', self::FEEL),
            ...Score::pattern('p4', 'Full car, turn', 'part-1', [...$lifted, ...$fill], 'hits', self::FEEL),
            ...Score::pattern('p5', 'Wire', 'part-2', $bass, 'notes', self::FEEL),
            ...Score::pattern('p6', 'Stabs', 'part-3', $stabs, 'notes', self::FEEL),
            ...Score::pattern('p7', 'Stabs, long', 'part-3', $pads, 'notes', self::FEEL),
            ...Score::pattern('p8', 'Bell', 'part-4', $bell, 'notes', self::FEEL),
            ...Score::pattern('p9', 'Last stop', 'part-1', [Score::hit(0, 0, 'a0', 118), Score::hit(0, 0, 'a4', 80), Score::hit(0, 8, 'a4', 52)], 'hits', self::FEEL),
            ...Score::pattern('p10', 'Wire, last', 'part-2', [Score::note(0, 0, self::ROOT, 100, 3400)], 'notes', self::FEEL),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function mix(): array
    {
        // The kit's pads, then bass, stabs, bell.
        $levels = ['c1' => [-12.6, 0.0], 'c2' => [-13.5, 0.0], 'c3' => [-21.0, 0.2], 'c4' => [-22.5, -0.18], 'c5' => [-14.0, 0.3], 'c6' => [-18.0, -0.3], 'c7' => [-18.0, 0.35], 'c8' => [-12.0, -0.2], 'c9' => [-10.0, 0.2], 'c10' => [-15.0, 0.1], 'c11' => [-13.0, 0.0], 'c12' => [-0.5, 0.0], 'c13' => [-20.0, 0.0]];
        $bands = [['c1', 2, 'low-shelf', 90.0, -7.5, 0.71], ['c2', 4, 'high-shelf', 5000.0, -8.0, 0.71], ['c3', 4, 'high-shelf', 9000.0, -7.0, 0.71], ['c4', 4, 'high-shelf', 9000.0, -7.0, 0.71], ['c11', 1, 'high-pass', 38.0, 0.0, 0.71], ['c11', 2, 'low-shelf', 120.0, 0.0, 0.71], ['c12', 1, 'high-pass', 160.0, 0.0, 0.71], ['c12', 3, 'peak', 1500.0, 3.0, 0.6], ['c13', 1, 'high-pass', 300.0, 0.0, 0.71]];

        return [
            ...Score::mix($levels, $bands),
            // Bass and stabs make room for the kick.
            ...Score::room('c11', 'c1', 6.0, 90.0),
            ...Score::room('c12', 'c1', 6.0, 140.0),
            ...Score::shared('Depot', 'plate', ['c2' => -14.0, 'c13' => -6.0]),
            ['type' => 'add-insert', 'node' => 'c13', 'kind' => 'delay'],
            ['type' => 'set', 'under' => 'mixer/c13/inserts/i3', 'time' => 'dotted', 'sixteenths' => 2, 'feedback' => 45.0, 'mix' => 28.0],
            ['type' => 'add-insert', 'node' => 'c11', 'kind' => 'saturation'],
            ['type' => 'set', 'under' => 'mixer/c11/inserts/i4', 'driveDb' => 6.0, 'mix' => 50.0, 'outputDb' => -2.0],
            Score::press('c12/inserts/i2', -22.0, 3.0, 1.0, 120.0, 4.0),
            Score::press('drums/inserts/i1', -22.0, 2.5, 1.0, 80.0, 2.0),
            Score::press('master/inserts/i1', -26.0, 2.5, 0.5, 90.0, 9.0),
            ...Score::tone([['low-shelf', 75.0, -1.5, 0.71], ['peak', 670.0, -3.0, 1.5], ['high-shelf', 4500.0, -3.0, 0.71]]),
            ['type' => 'set', 'under' => 'mixer/master', 'gainDb' => 16.7],
            ['type' => 'set', 'under' => 'mixer/c12/inserts/i1/bands/4', 'shape' => 'high-shelf', 'hz' => 2400.0, 'on' => true],
            ...self::movements(),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function movements(): array
    {
        return [
            // The stabs come nearer while one waits, and again out of the tunnel.
            Score::moves('c12/inserts/i1/bands/4/gainDb', [[0, -16, 0.3], [4, 0], [20, 0, 1], [20.001, -18, 0.35], [24, 0], [36, 0, 0.2], [40, -14]]),
            // The tunnel is longer than the depot, and its bell goes round in it.
            Score::moves('r1/inserts/i1/decay', [[0, 1.8], [1, 5], [3.5, 5, 0.3], [4, 1.8]], 's4'),
            Score::moves('c13/inserts/i3/feedback', [[0, 45], [3, 74, 1], [3.5, 45]], 's4'),
            Score::moves('c13/sends/r1/gainDb', [[0, -6], [3, 0], [4, -6]], 's4'),
            // The rail hat goes by.
            Score::moves('c3/pan', [[0, -0.6], [4, 0.6]], 'p1'),
            // The wire bites harder in the market.
            Score::moves('c11/inserts/i4/driveDb', [[0, 6], [3, 11], [4, 6]], 's5'),
        ];
    }
}
