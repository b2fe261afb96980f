<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;
use Pestle\Core\Song\Part;

/** A demo beat must sound like a beat somebody would keep: the measures that stand in for ears. Loaded and rendered without a screen. */
abstract class DemoBeatCase extends AppCase
{
    protected static StereoBlock $sound;
    protected static string $folder;

    public function testItIsAsLoudAsItShouldBe(): void
    {
        $loudness = Loudness::of(new MemorySource(self::$sound, 44100));
        self::assertEqualsWithDelta(-13.0, $loudness->integratedLufs, 1.0);
        self::assertLessThanOrEqual(-1.0, $loudness->truePeakDb);
        $rms = Decibels::fromGain(sqrt((self::power(self::$sound->left) + self::power(self::$sound->right)) / 2));
        $crest = $loudness->samplePeakDb - $rms;
        self::assertGreaterThan(9.0, $crest);
        self::assertLessThan(14.0, $crest);
        self::assertLessThan(0.001, abs(array_sum(self::$sound->left) / \count(self::$sound->left)));
    }

    public function testItsSpectrumFallsEvenlyAndItsLowsAreThere(): void
    {
        $bands = self::thirdOctaves(self::$sound);
        $points = [];
        foreach ($bands as [$hz, $power]) {
            if ($hz >= 100 && $hz <= 10000) {
                $points[] = [log($hz / 100, 2), 10 * log10($power)];
            }
        }
        [$slope, $offset] = self::line($points);
        self::assertEqualsWithDelta(-4.0, $slope, 1.0, \sprintf('slope %.2f dB an octave', $slope));
        foreach ($points as [$octave, $db]) {
            self::assertEqualsWithDelta($offset + $slope * $octave, $db, 8.0, \sprintf('%.0f Hz', 100 * 2 ** $octave));
        }
        $total = array_sum(array_column($bands, 1));
        $below = static fn (float $limit): float => array_sum(array_column(array_filter($bands, static fn (array $band): bool => $band[0] < $limit), 1)) / $total;
        self::assertGreaterThan(0.25, $below(120));
        self::assertLessThan(0.55, $below(120));
        self::assertLessThan(0.03, $below(28));
    }

    public function testItsWidthIsAboveTheLows(): void
    {
        self::assertGreaterThan(0.3, self::correlation(self::$sound->left, self::$sound->right));
        $low = Biquad::lowPass(120, 0.71, 44100);
        self::assertGreaterThan(0.95, self::correlation($low->filter($low->filter(self::$sound->left)), $low->filter($low->filter(self::$sound->right))));
        self::assertLessThan(0.999, self::correlation(self::$sound->left, self::$sound->right));
    }

    public function testItLoopsWithoutASeam(): void
    {
        $joined = [...\array_slice(self::$sound->left, -400), ...\array_slice(self::$sound->left, 0, 400)];
        $bend = static fn (int $i): float => abs($joined[$i] - 2 * $joined[$i - 1] + $joined[$i - 2]);
        $around = max(array_map($bend, [...range(300, 390), ...range(420, 500)]));
        self::assertLessThan(6 * $around, max(array_map($bend, range(396, 404))));
    }

    /** Two of its instruments are sounds of the shelf, made from nothing. */
    protected static function assertMadeSounds(string $name): void
    {
        $beats = self::service(Beats::class);
        self::assertCount(2, array_filter($beats->content($beats->called($name))->parts, static fn (Part $part): bool => [] !== ($part->keys->waves ?? [])));
    }

    /** @param list<float> $side */
    private static function power(array $side): float
    {
        return array_sum(array_map(static fn (float $x): float => $x * $x, $side)) / max(1, \count($side));
    }

    /** @param list<string> $arguments */
    protected static function console(array $arguments, int $code): string
    {
        exec(implode(' ', array_map(escapeshellarg(...), [\dirname(__DIR__, 2).'/bin/console', ...$arguments])).' 2>&1', $lines, $status);
        self::assertSame($code, $status, implode("\n", $lines));

        return implode("\n", $lines);
    }

    /** @return list<array{float, float}> middle frequency and power of each third octave */
    private static function thirdOctaves(StereoBlock $sound): array
    {
        $size = 16384;
        $fft = new Fft($size);
        $window = Window::hann($size);
        $power = array_fill(0, $size / 2 + 1, 0.0);
        for ($at = 0; $at + $size <= $sound->frames(); $at += $size) {
            $part = [];
            foreach ($window as $i => $w) {
                $part[] = $w * ($sound->left[$at + $i] + $sound->right[$at + $i]);
            }
            foreach ($fft->magnitudes($part) as $k => $m) {
                $power[$k] += $m * $m;
            }
        }
        $bands = [];
        for ($n = -17; $n <= 13; ++$n) {
            $hz = 1000 * 2 ** ($n / 3);
            [$from, $to] = [(int) round($hz * 2 ** (-1 / 6) * $size / 44100), (int) round($hz * 2 ** (1 / 6) * $size / 44100)];
            $bands[] = [$hz, array_sum(\array_slice($power, $from, max(1, $to - $from))) + 1e-12];
        }

        return $bands;
    }

    /**
     * @param list<array{float, float}> $points
     *
     * @return array{float, float} slope and offset of the least-squares line
     */
    private static function line(array $points): array
    {
        $n = \count($points);
        $x = array_sum(array_column($points, 0)) / $n;
        $y = array_sum(array_column($points, 1)) / $n;
        $xy = $xx = 0.0;
        foreach ($points as [$px, $py]) {
            $xy += ($px - $x) * ($py - $y);
            $xx += ($px - $x) ** 2;
        }

        return [$xy / $xx, $y - $xy / $xx * $x];
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     */
    private static function correlation(array $a, array $b): float
    {
        $ab = $aa = $bb = 0.0;
        foreach ($a as $i => $x) {
            $ab += $x * $b[$i];
            $aa += $x * $x;
            $bb += $b[$i] * $b[$i];
        }

        return $ab / sqrt($aa * $bb);
    }
}
