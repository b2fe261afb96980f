<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;

/**
 * The note of a single sound: the cumulative mean normalised difference at several places after its attack, each
 * refined at the longest multiple of the period that fits, and the middle of what they say.
 * Source: A. de Cheveigné and H. Kawahara, "YIN, a fundamental frequency estimator" (JASA 2002).
 */
final readonly class PitchGuess
{
    private const LOWEST_HZ = 27.0;
    private const HIGHEST_HZ = 2500.0;
    private const THRESHOLD = 0.15;
    private const PLACES = 12;

    /**
     * @param float $note       MIDI note with its fraction, 69 for 440 Hz
     * @param float $confidence 0 to 1
     */
    private function __construct(public float $note, public float $confidence)
    {
    }

    public static function of(AudioSource $source): ?self
    {
        $rate = $source->sampleRate();
        $longest = (int) ($rate / self::LOWEST_HZ);
        $window = 3 * $longest;
        $fft = Fft::near(1.5 * $window);
        $found = [];
        $places = self::places($source, $window);
        foreach ($places as $at) {
            $estimate = self::period($source, $at, $longest, $rate, $fft);
            if (null !== $estimate) {
                $found[] = [69.0 + 12.0 * log($rate / $estimate[0] / 440.0, 2), $estimate[1]];
            }
        }
        if ([] === $found) {
            return null;
        }
        usort($found, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $middle = $found[intdiv(\count($found), 2)][0];
        $near = array_values(array_filter($found, static fn (array $f): bool => abs($f[0] - $middle) < 0.5));
        $sum = $weight = 0.0;
        foreach ($near as [$note, $clarity]) {
            $sum += $note * $clarity;
            $weight += $clarity;
        }

        return new self($sum / $weight, min(1.0, $weight / \count($places)));
    }

    /** Nearest MIDI note. */
    public function midi(): int
    {
        return (int) round($this->note);
    }

    /** Distance from the nearest note, -50 to 50. */
    public function cents(): float
    {
        return 100.0 * ($this->note - $this->midi());
    }

    /** @return list<int> frames spread over what sounds, from shortly after the loudest place on */
    private static function places(AudioSource $source, int $window): array
    {
        $step = max(1, intdiv($source->sampleRate(), 50));
        $levels = [];
        for ($at = 0, $n = min($source->frames(), 10 * $source->sampleRate()); $at < $n; $at += $step) {
            $levels[] = $source->read($at, min($step, $n - $at))->peak();
        }
        if ([] === $levels || max($levels) < 1e-4) {
            return [];
        }
        $loudest = (int) array_search(max($levels), $levels, true);
        $end = $loudest;
        while (isset($levels[$end + 1]) && $levels[$end + 1] > 0.05 * $levels[$loudest]) {
            ++$end;
        }
        $from = ($loudest + 2) * $step;
        $to = ($end + 1) * $step - $window;
        if ($to <= $from) {
            return [max(0, min($from, $source->frames() - $window))];
        }

        return array_map(static fn (int $k): int => (int) ($from + ($to - $from) * $k / (self::PLACES - 1)), range(0, self::PLACES - 1));
    }

    /** @return array{float, float}|null period in frames and how clear it is, 0 to 1 */
    private static function period(AudioSource $source, int $at, int $longest, int $rate, Fft $fft): ?array
    {
        $block = $source->read($at, 3 * $longest);
        $x = $block->left;
        foreach ($block->right as $i => $r) {
            $x[$i] += $r;
        }
        $difference = self::difference($x, $longest, $fft);
        $shortest = max(2, (int) ($rate / self::HIGHEST_HZ));
        $sum = 0.0;
        $normal = [1.0];
        for ($lag = 1; $lag < $longest; ++$lag) {
            $sum += $difference[$lag];
            $normal[] = $sum > 0.0 ? $difference[$lag] * $lag / $sum : 1.0;
        }
        $best = null;
        for ($lag = $shortest; $lag < $longest - 1; ++$lag) {
            if ($normal[$lag] < self::THRESHOLD && $normal[$lag] <= $normal[$lag + 1]) {
                $best = $lag;
                break;
            }
            if ($normal[$lag] < 0.4 && (null === $best || $normal[$lag] < $normal[$best])) {
                $best = $lag;
            }
        }
        if (null === $best) {
            return null;
        }
        $period = self::bottom($difference, $best);
        for ($multiple = 2; ($multiple + 0.1) * $period < $longest - 2; ++$multiple) {
            $near = (int) round($multiple * $period);
            $low = $near;
            for ($lag = $near - 1; $lag <= $near + 1; ++$lag) {
                $low = $difference[$lag] < $difference[$low] ? $lag : $low;
            }
            // Once the difference grows the sound has changed, or its partials are not quite harmonic.
            if ($normal[$low] > $normal[$best] + 0.05) {
                break;
            }
            $period = self::bottom($difference, $low) / $multiple;
        }

        return [$period, 1.0 - min(1.0, $normal[$best])];
    }

    /**
     * Squared difference of the signal from itself, by lag: energies less twice the correlation, which comes from spectra.
     *
     * @param array<int, float> $x
     *
     * @return list<float>
     */
    private static function difference(array $x, int $longest, Fft $fft): array
    {
        $n = 2 * $longest;
        $silence = array_fill(0, $fft->size - \count($x), 0.0);
        [$aRe, $aIm] = $fft->forward([...\array_slice($x, 0, $n), ...array_fill(0, $fft->size - $n, 0.0)]);
        [$bRe, $bIm] = $fft->forward([...$x, ...$silence]);
        $re = $im = [];
        foreach ($aRe as $k => $r) {
            $re[] = $r * $bRe[$k] + $aIm[$k] * $bIm[$k];
            $im[] = $r * $bIm[$k] - $aIm[$k] * $bRe[$k];
        }
        $correlation = $fft->inverse($re, $im);
        $first = 0.0;
        for ($i = 0; $i < $n; ++$i) {
            $first += $x[$i] * $x[$i];
        }
        $moved = $first;
        $out = [0.0];
        for ($lag = 1; $lag < $longest; ++$lag) {
            $moved += $x[$n + $lag - 1] ** 2 - $x[$lag - 1] ** 2;
            $out[] = max(0.0, $first + $moved - 2.0 * $correlation[$lag]);
        }

        return $out;
    }

    /**
     * Lowest point of the parabola through a dip; beside one, where there is none, it would lie anywhere.
     *
     * @param list<float> $y
     */
    private static function bottom(array $y, int $i): float
    {
        $curve = $y[$i - 1] - 2.0 * $y[$i] + $y[$i + 1];

        return $curve > 0.0 ? $i + max(-1.0, min(1.0, 0.5 * ($y[$i - 1] - $y[$i + 1]) / $curve)) : (float) $i;
    }
}
