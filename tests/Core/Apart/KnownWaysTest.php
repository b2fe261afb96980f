<?php

namespace Pestle\Tests\Core\Apart;

use Pestle\Core\Apart\Bands;
use Pestle\Core\Apart\Cues;
use Pestle\Core\Apart\LowVoice;
use Pestle\Core\Apart\Medians;
use Pestle\Core\Apart\Overlap;
use Pestle\Core\Apart\Repeats;
use Pestle\Core\Apart\Spectra;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Noise;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** The ways by which parts of a recording are told from one another, each on sounds whose answer is known. */
final class KnownWaysTest extends TestCase
{
    #[TestWith([44100, 30011])]
    #[TestWith([48000, 12345])]
    #[TestWith([8000, 700])]
    public function testSpectraLeftAloneBecomeTheRecordingAgain(int $rate, int $frames): void
    {
        $block = Sounds::hit(3, $frames);
        $spectra = new Spectra(new MemorySource($block, $rate));
        $sums = [new Overlap($spectra->fft->size, $spectra->hop), new Overlap($spectra->fft->size, $spectra->hop)];
        foreach ($spectra->between(0, $spectra->count()) as [$lr, $li, $rr, $ri]) {
            $sums[0]->add($spectra->back($lr, $li));
            $sums[1]->add($spectra->back($rr, $ri));
        }
        $most = 0.0;
        foreach ([$block->left, $block->right] as $side => $values) {
            $back = \array_slice($sums[$side]->done(), (Spectra::OVERLAP - 1) * $spectra->hop, $frames);
            self::assertCount($frames, $back);
            foreach ($values as $i => $x) {
                $most = max($most, abs($x - $back[$i]));
            }
        }
        self::assertLessThan(1e-12, $most);
    }

    public function testBandsShareOutEveryBinAndSpreadWhatIsEvenEvenly(): void
    {
        $bands = new Bands(44100 / 4096, 2049);
        self::assertCount(Bands::count(), $bands->middles);
        self::assertEqualsWithDelta(2049.0, array_sum($bands->sums(array_fill(0, 2049, 1.0))), 1e-9);
        self::assertEqualsWithDelta(array_fill(0, 2049, 0.7), $bands->spread(array_fill(0, Bands::count(), 0.7)), 1e-12);
        // The same tone lies in the same band at every rate.
        foreach ([44100, 48000, 96000] as $rate) {
            $spectra = new Spectra(new MemorySource(StereoBlock::silence(10), $rate));
            $bins = array_fill(0, $spectra->bands->bins, 0.0);
            $bins[(int) round(1000.0 * $spectra->fft->size / $rate)] = 1.0;
            $sums = $spectra->bands->sums(array_values($bins));
            self::assertEqualsWithDelta(1000.0, $bands->middles[(int) array_search(max([0.0, ...$sums]), $sums, true)], 45.0);
        }
    }

    public function testTheMedianOfNineIsTheMiddleOne(): void
    {
        $noise = new Noise(11);
        $lists = [];
        for ($i = 0; $i < 9; ++$i) {
            for ($k = 0; $k < 400; ++$k) {
                // Some are the same.
                $lists[$i][$k] = 0 === $k % 3 ? round(3.0 * $noise->next()) : $noise->next();
            }
        }
        $medians = Medians::ofNine(...array_values(array_map(array_values(...), $lists)));
        for ($k = 0; $k < 400; ++$k) {
            $values = array_column($lists, $k);
            sort($values);
            self::assertSame($values[4], $medians[$k]);
        }
    }

    public function testWhatIsHeldIsToneAndWhatIsStruckIsNot(): void
    {
        $frames = 60_000;
        $held = Sounds::sine(660.0, $frames);
        $struck = array_fill(0, $frames, 0.0);
        $struck[30_000] = 0.9;
        self::assertGreaterThan(0.95, self::cue($held, 29, 660.0, 1));
        self::assertLessThan(0.05, self::cue(array_values($struck), 31, 660.0, 1));
    }

    public function testTheMiddleIsToldFromTheSides(): void
    {
        $left = Sounds::sine(440.0, 40_000);
        $none = array_fill(0, 40_000, 0.0);
        $against = array_map(static fn (float $x): float => -$x, $left);
        self::assertEqualsWithDelta(1.0, self::cue($left, 20, 440.0, 2), 1e-6);
        self::assertEqualsWithDelta(0.5, self::cue($left, 20, 440.0, 2, $none), 1e-6);
        self::assertEqualsWithDelta(0.0, self::cue($left, 20, 440.0, 2, $against), 1e-6);
    }

    public function testWhatComesAgainIsToldFromWhatComesOnce(): void
    {
        $levels = [];
        for ($t = 0; $t < 240; ++$t) {
            $row = array_fill(0, Bands::count(), 0.01);
            // One of three notes every 20, always in the same order.
            $row[10 + 5 * (intdiv($t, 20) % 3)] = 1.0;
            if (130 === $t) {
                $row[40] = 0.8;
            }
            $levels[$t] = array_values($row);
        }
        $again = (new Repeats($levels))->at(130);
        self::assertGreaterThan(0.99, $again[10 + 5 * (intdiv(130, 20) % 3)]);
        self::assertLessThan(0.02, $again[40]);
    }

    #[TestWith([61.7])]
    #[TestWith([98.0])]
    public function testTheLowestVoiceIsFollowed(float $hz): void
    {
        $bands = new Bands(44100 / 4096, 2049);
        $levels = array_fill(0, Bands::count(), 0.001);
        $near = static function (float $hz) use ($bands): int {
            $off = array_map(static fn (float $m): float => abs($m - $hz), $bands->middles);

            return (int) array_search(min($off), $off, true);
        };
        for ($h = 1; $h <= 8; ++$h) {
            $levels[$near($h * $hz)] = 1.0 / $h;
        }
        // A louder voice above it.
        $levels[$near(523.0)] = 1.5;
        $heard = (new LowVoice($bands))->in(array_values($levels));
        self::assertGreaterThan(0.6, $heard[$near($hz)]);
        self::assertGreaterThan(0.6, $heard[$near(3 * $hz)]);
        self::assertSame(0.0, $heard[$near(7.5 * 98.0)]);
    }

    /** What is said of a spectrum does not depend on which others were asked for: pieces can be taken one by one. */
    public function testCuesOfASpectrumAreTheSameInEveryPiece(): void
    {
        $block = Sounds::hit(8, 200_000);
        $cues = new Cues(new Spectra(new MemorySource($block, 44100)));
        self::assertSame($cues->between(0, 60)[52], $cues->between(50, 55)[52]);
    }

    /** They are of what sounds, not of how loud it is. */
    public function testLouderSaysTheSame(): void
    {
        $block = Sounds::hit(8, 100_000, 0.1);
        $louder = new StereoBlock(array_map(static fn (float $x): float => 6.0 * $x, $block->left), array_map(static fn (float $x): float => 6.0 * $x, $block->right));
        [$a, $b] = array_map(static fn (StereoBlock $b): array => (new Cues(new Spectra(new MemorySource($b, 44100))))->between(20, 22), [$block, $louder]);
        self::assertEqualsWithDelta($a, $b, 1e-6);
    }

    /**
     * @param list<float>      $left
     * @param list<float>|null $right
     */
    private static function cue(array $left, int $t, float $hz, int $which, ?array $right = null): float
    {
        $spectra = new Spectra(new MemorySource(new StereoBlock($left, $right ?? $left), 44100));
        $row = (new Cues($spectra))->between($t, $t + 1)[$t];
        $off = array_map(static fn (float $m): float => abs($m - $hz), $spectra->bands->middles);

        return $row[Cues::PER_BAND * (int) array_search(min($off), $off, true) + $which];
    }
}
