<?php

namespace Pestle\Tests\Core\Signal;

use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\TruePeak;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SpectrumTest extends TestCase
{
    public function testTheTransformIsTheDefinition(): void
    {
        $signal = (new Noise(5))->block(64);
        [$re, $im] = (new Fft(64))->forward($signal);
        self::assertCount(33, $re);
        for ($k = 0; $k <= 32; ++$k) {
            [$c, $s] = [0.0, 0.0];
            foreach ($signal as $i => $x) {
                $c += $x * cos(2 * \M_PI * $k * $i / 64);
                $s -= $x * sin(2 * \M_PI * $k * $i / 64);
            }
            self::assertEqualsWithDelta($c, $re[$k], 1e-12);
            self::assertEqualsWithDelta($s, $im[$k], 1e-12);
        }
    }

    /** @return iterable<string, array{Biquad, float, float}> */
    public static function filters(): iterable
    {
        yield 'a peak of 6 dB' => [Biquad::peaking(1000, 1.0, 6.0, 44100), 1000.0, 6.0];
        yield 'a low shelf far below' => [Biquad::lowShelf(500, 0.71, -9.0, 44100), 30.0, -9.0];
        yield 'a high shelf far above' => [Biquad::highShelf(2000, 0.71, 4.0, 44100), 18000.0, 4.0];
        yield 'a high pass at its corner' => [Biquad::highPass(200, \M_SQRT1_2, 44100), 200.0, -3.01];
        yield 'a low pass at its corner' => [Biquad::lowPass(5000, \M_SQRT1_2, 44100), 5000.0, -3.01];
    }

    #[DataProvider('filters')]
    public function testFiltersDoWhatTheirCurveSays(Biquad $filter, float $hz, float $db): void
    {
        self::assertEqualsWithDelta($db, $filter->responseDb($hz, 44100), 0.15);
        $settled = \array_slice($filter->filter(Sounds::sine($hz, 44100)), 22050);
        $level = sqrt(2 * array_sum(array_map(static fn (float $x): float => $x * $x, $settled)) / 22050) / 0.5;
        self::assertEqualsWithDelta($filter->responseDb($hz, 44100), Decibels::fromGain($level), 0.02);
    }

    public function testPeaksBetweenSamplesAreSeen(): void
    {
        // A sine at a quarter of the rate, shifted by 45 degrees: samples reach 0.707 of what is heard.
        $signal = [];
        for ($i = 0; $i < 400; ++$i) {
            $signal[] = sin(\M_PI / 2 * $i + \M_PI / 4);
        }
        self::assertEqualsWithDelta(\M_SQRT1_2, Peak::of($signal), 1e-9);
        $peaks = TruePeak::peaks($signal);
        self::assertCount(400 - TruePeak::BEFORE - TruePeak::AFTER, $peaks);
        self::assertEqualsWithDelta(1.0, Peak::of(\array_slice($peaks, 50, 200)), 0.02);
        self::assertSame(0.0, Peak::of(TruePeak::peaks(array_fill(0, 100, 0.001), 0.5)));
    }

    /** Every size, back and forth; energy is kept (Parseval). */
    public function testTheTransformComesBack(): void
    {
        foreach ([4, 8, 32, 64, 512, 2048, 8192] as $size) {
            $signal = (new Noise($size))->block($size);
            $fft = new Fft($size);
            [$re, $im] = $fft->forward($signal);
            self::assertCount(intdiv($size, 2) + 1, $re);
            self::assertEqualsWithDelta($signal, $fft->inverse($re, $im), 1e-12);
            $energy = array_sum(array_map(static fn (float $x): float => $x * $x, $signal));
            $spectrum = 0.0;
            foreach ($re as $k => $r) {
                $spectrum += ($r * $r + $im[$k] * $im[$k]) * (0 === $k || $k === intdiv($size, 2) ? 1 : 2);
            }
            self::assertEqualsWithDelta($energy, $spectrum / $size, 1e-9 * $size);
        }
        self::assertSame(2048, Fft::near(2000.0)->size);
        self::assertSame(64, Fft::near(3.0)->size);
    }

    /** What is below the floor may be left out; what is above it is the same with a floor and without. */
    public function testAFloorOnlyLeavesOutWhatIsBelowIt(): void
    {
        $noise = new Noise(12);
        $signal = $noise->block(5000);
        foreach ($signal as $i => $x) {
            $signal[$i] = $x * (0.05 + 0.9 * exp(-($i % 1000) / 150));
        }
        $all = TruePeak::peaks($signal);
        foreach ([0.2, 0.5, 0.9] as $floor) {
            $over = 0;
            foreach (TruePeak::peaks($signal, $floor) as $i => $peak) {
                self::assertContains($peak, [0.0, $all[$i]]);
                if ($all[$i] > $floor) {
                    self::assertSame($all[$i], $peak);
                    ++$over;
                }
            }
            self::assertGreaterThan(5, $over);
        }
        self::assertSame(0.75, Peak::of([0.5, -0.75, 0.1]));
        self::assertSame(0.0, Peak::of([]));
    }

    public function testNoiseIsSeeded(): void
    {
        self::assertSame((new Noise(9))->block(50), (new Noise(9))->block(50));
        self::assertNotSame((new Noise(9))->block(50), (new Noise(10))->block(50));
        $block = (new Noise(1))->block(20000);
        self::assertEqualsWithDelta(0.0, array_sum($block) / 20000, 0.02);
        self::assertLessThanOrEqual(1.0, Peak::of($block));
    }
}
