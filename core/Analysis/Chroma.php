<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\Window;

/**
 * How strongly each of the twelve pitch classes sounds, from the peaks of the spectrum: over everything, in the
 * bass alone, and in the first and last of eight parts. The tuning of the recording is found and taken out.
 * Source: E. Gómez, "Tonal description of polyphonic audio for music content processing" (INFORMS JoC 2006).
 */
final readonly class Chroma
{
    private const WINDOW_SECONDS = 0.186;
    private const LOWEST_HZ = 50.0;
    private const BASS_HZ = 180.0;
    private const HIGHEST_HZ = 2500.0;
    /** Places an octave is divided into while the tuning is not known: ten cents each. */
    private const PLACES = 120;
    private const STANDS_OUT = 0.4;
    private const MOST_SPECTRA = 2000;
    private const FEW_SPECTRA = 16;

    /**
     * @param list<float> $all   twelve values from C, the largest 1; zeros for silence
     * @param list<float> $bass
     * @param list<float> $first
     * @param list<float> $last
     * @param float       $cents how far the recording is tuned above 440 Hz
     */
    private function __construct(public array $all, public array $bass, public array $first, public array $last, public float $cents)
    {
    }

    /** @return list<int> pitch classes that stand out, 0 is C */
    public function notes(): array
    {
        return array_values(array_filter(range(0, 11), fn (int $class): bool => $this->all[$class] >= self::STANDS_OUT));
    }

    public static function of(AudioSource $source): self
    {
        $rate = $source->sampleRate();
        $fft = Fft::near($rate * self::WINDOW_SECONDS);
        $window = Window::hann($fft->size);
        $frames = $source->frames();
        $hop = max(intdiv($fft->size, 2), intdiv($frames, self::MOST_SPECTRA));
        $empty = array_fill(0, self::PLACES, 0.0);
        [$all, $bass, $first, $last, $heard] = [$empty, $empty, $empty, $empty, $empty];
        $top = min(intdiv($fft->size, 2), (int) (self::HIGHEST_HZ * $fft->size / $rate) + 2);
        $spectra = [];
        for ($at = 0; $at < max(1, $frames - intdiv($fft->size, 2)); $at += $hop) {
            $block = $source->read($at, $fft->size);
            $signal = [];
            foreach ($window as $i => $w) {
                $signal[$i] = ($block->left[$i] + $block->right[$i]) * $w;
            }
            $spectra[] = \array_slice($fft->magnitudes($signal), 0, $top);
        }
        $steady = self::steady($spectra);
        $count = \count($spectra);
        foreach ($spectra as $s => $spectrum) {
            foreach ($steady as $k => $always) {
                $spectrum[$k] = max(0.0, $spectrum[$k] - $always);
            }
            $part = intdiv(8 * $s, $count);
            foreach (self::peaks(array_values($spectrum), $rate / $fft->size) as [$hz, $strength]) {
                // Low strings sound most in their overtones, so these count for their ground tone as well.
                foreach ([1, 2, 3, 4, 5] as $partial) {
                    $ground = $hz / $partial;
                    if ($ground < self::LOWEST_HZ) {
                        break;
                    }
                    $place = 10.0 * (12.0 * log($ground / 440.0, 2) + 69.0);
                    $p = (int) round($place) % self::PLACES;
                    $value = $strength * 0.6 ** ($partial - 1);
                    $all[$p] += $value;
                    if (1 === $partial) {
                        $heard[$p] += $strength;
                        if ($hz < self::BASS_HZ) {
                            $bass[$p] += $strength;
                        }
                    }
                    if (0 === $part) {
                        $first[$p] += $value;
                    } elseif (7 === $part) {
                        $last[$p] += $value;
                    }
                }
            }
        }
        $shift = self::tuning($heard);

        return new self(self::folded($all, $shift), self::folded($bass, $shift), self::folded($first, $shift), self::folded($last, $shift), $shift * 10.0);
    }

    /**
     * What sounds at every time, as hum and hiss do and notes do not: of each bin the value that a tenth of the spectra
     * stay below. A recording of a few spectra has none.
     *
     * @param list<list<float>> $spectra
     *
     * @return list<float>
     */
    private static function steady(array $spectra): array
    {
        if (\count($spectra) < self::FEW_SPECTRA) {
            return [];
        }
        $steady = [];
        foreach (array_keys($spectra[0]) as $k) {
            $values = array_column($spectra, $k);
            sort($values);
            $steady[] = $values[intdiv(\count($values), 10)];
        }

        return $steady;
    }

    /**
     * @param list<float> $magnitudes
     *
     * @return list<array{float, float}> frequency and strength of what stands out
     */
    private static function peaks(array $magnitudes, float $binHz): array
    {
        $from = max(2, (int) (self::LOWEST_HZ / $binHz));
        $to = min(\count($magnitudes) - 2, (int) (self::HIGHEST_HZ / $binHz));
        $most = Peak::of(\array_slice($magnitudes, $from, max(0, $to - $from)));
        $peaks = [];
        for ($k = $from; $k < $to; ++$k) {
            $b = $magnitudes[$k];
            if ($b > 0.01 * $most && $b > $magnitudes[$k - 1] && $b >= $magnitudes[$k + 1]) {
                $a = log($magnitudes[$k - 1] + 1e-12);
                $l = log($b + 1e-12);
                $c = log($magnitudes[$k + 1] + 1e-12);
                $d = $a - 2.0 * $l + $c;
                $peaks[] = [($k + ($d < 0.0 ? 0.5 * ($a - $c) / $d : 0.0)) * $binHz, sqrt($b)];
            }
        }

        return $peaks;
    }

    /**
     * The shift in places, -5 to 5, by which most lies on the twelve notes.
     *
     * @param array<int, float> $places
     */
    private static function tuning(array $places): float
    {
        $x = $y = 0.0;
        foreach ($places as $p => $v) {
            $x += $v * cos(2 * \M_PI * $p / 10);
            $y += $v * sin(2 * \M_PI * $p / 10);
        }

        return atan2($y, $x) / (2 * \M_PI) * 10;
    }

    /**
     * @param array<int, float> $places
     *
     * @return list<float>
     */
    private static function folded(array $places, float $shift): array
    {
        $out = array_fill(0, 12, 0.0);
        foreach ($places as $p => $v) {
            $note = (int) round(($p - $shift) / 10.0);
            $out[($note + 12) % 12] += $v;
        }
        $most = Peak::of($out);

        return array_values(array_map(static fn (float $v): float => $most > 0.0 ? $v / $most : 0.0, $out));
    }
}
