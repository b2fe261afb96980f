<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\BandLevels;
use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Analysis\Masking;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Render\LiveLoudness;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Noise;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Bands, what covers what in them, and how loud it is while it plays: by known sounds. */
final class SpectrumTest extends TestCase
{
    private const RATE = 44100;

    public function testASineLiesInItsBandAtItsLevel(): void
    {
        $levels = new BandLevels((float) self::RATE);
        foreach ([25.0, 61.0, 440.0, 3000.0, 12000.0] as $hz) {
            $sine = Sounds::sine($hz, BandLevels::FRAMES, self::RATE, 0.25);
            $bands = $levels->of(new StereoBlock($sine, $sine));
            $loudest = (int) array_search(max([0.0, ...$bands]), $bands, true);
            self::assertEqualsWithDelta(0.0, 6.0 * log(BandLevels::hz($loudest) / $hz, 2.0), $hz < 50.0 ? 2.5 : 1.01, "$hz Hz");
            if ($hz > 100.0) {
                self::assertEqualsWithDelta(Decibels::fromGain(0.25), 10.0 * log10(array_sum($bands)), 0.3, "$hz Hz");
            }
        }
        // One side alone has half the power.
        $half = $levels->of(new StereoBlock(Sounds::sine(440.0, BandLevels::FRAMES, self::RATE, 0.25), array_fill(0, BandLevels::FRAMES, 0.0)));
        self::assertEqualsWithDelta(Decibels::fromGain(0.25) - 3.01, 10.0 * log10(array_sum($half)), 0.3);
        self::assertSame(0.0, array_sum($levels->of(StereoBlock::silence(100))));
    }

    public function testALoudNeighbourCoversASoftSoundAndWhatIsFarAwayDoesNot(): void
    {
        $levels = new BandLevels((float) self::RATE);
        $bands = static fn (float $hz, float $level): array => $levels->of(new StereoBlock($sine = Sounds::sine($hz, BandLevels::FRAMES, self::RATE, $level), $sine));
        $masking = new Masking();
        $bass = [$bands(60.0, 0.05), $bands(60.0, 0.05)];
        [$share, $where] = $masking->covered($bass, [$bands(65.0, 0.5), $bands(65.0, 0.5)]);
        self::assertGreaterThan(0.9, $share);
        self::assertEqualsWithDelta($share, array_sum($where), 1e-9);
        self::assertLessThan(120.0, BandLevels::hz((int) array_search(max([0.0, ...$where]), $where, true)));
        // At half of the moments only; the other way round not at all; not from two octaves above.
        self::assertEqualsWithDelta(0.5, $masking->covered($bass, [$bands(65.0, 0.5), array_fill(0, BandLevels::BANDS, 0.0)])[0], 0.05);
        self::assertSame(0.0, $masking->covered([$bands(65.0, 0.5)], [$bass[0]])[0]);
        self::assertLessThan(0.05, $masking->covered([$bands(500.0, 0.05)], [$bands(4000.0, 0.5)])[0]);
        // It spreads further upwards than downwards.
        $up = $masking->covered([$bands(1400.0, 0.02)], [$bands(1000.0, 0.5)])[0];
        self::assertGreaterThan(0.9, $up);
        self::assertLessThan(0.2, $masking->covered([$bands(640.0, 0.02)], [$bands(1000.0, 0.5)])[0]);
        self::assertSame(0.0, $masking->covered([array_fill(0, BandLevels::BANDS, 0.0)], $bass)[0]);
    }

    /** What is told while it plays is what the standard's meter says of the same stretch. */
    public function testLiveLoudnessIsTheMetersOwn(): void
    {
        $noise = new Noise(4);
        $sound = array_map(static fn (int $i): float => ($i < 200_000 ? 0.1 : 0.3) * $noise->next(), range(0, 399_999));
        $block = new StereoBlock($sound, array_map(static fn (float $x): float => 0.5 * $x, $sound));
        $live = new LiveLoudness();
        $powers = [];
        $last = null;
        foreach ([[0, 81_920], [81_920, 204_800], [286_720, 112_640]] as [$from, $count]) {
            $last = $live->of('at '.$from, Rendered::of($block->slice($from, $count), $count, []), $last);
            array_push($powers, ...$last->powers);
        }
        $shown = LiveLoudness::shown($powers, []);
        foreach ([60, 96, 150, 190] as $column) {
            $end = ($column + 1) * Rendered::PEAK_FRAMES;
            foreach (['shortTerm' => 3.0, 'momentary' => 0.4] as $name => $seconds) {
                $meter = new LoudnessMeter(self::RATE);
                $from = max(0, (int) ($end - $seconds * self::RATE));
                $meter->add($block->slice($from, $end - $from));
                self::assertEqualsWithDelta($meter->integratedLufs(), $shown[$name][$column], 0.35, "$name at $column");
            }
            $last = \array_slice($sound, $end - (int) (0.3 * self::RATE), (int) (0.3 * self::RATE));
            $mean = 0.5 * 1.25 * array_sum(array_map(static fn (float $x): float => $x * $x, $last)) / \count($last);
            self::assertEqualsWithDelta(10.0 * log10($mean), $shown['rms'][$column], 0.2, "rms at $column");
        }
        // Four tenths of a second after it became louder nothing of before is in it; three seconds still are.
        self::assertEqualsWithDelta($shown['momentary'][150], $shown['momentary'][107], 0.4);
        self::assertGreaterThan(1.0, $shown['shortTerm'][150] - $shown['shortTerm'][107]);
        // What goes round has its own end before its start.
        self::assertEqualsWithDelta($shown['shortTerm'][190], LiveLoudness::shown($powers, $powers)['shortTerm'][0], 0.7);
    }
}
