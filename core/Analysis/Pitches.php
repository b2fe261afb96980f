<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * Which notes sound at once in a spectrum: the strongest one by the sum of its harmonics, its harmonics taken out as far
 * as they are smooth, then the next.
 * Source: A. Klapuri, "Multiple fundamental frequency estimation by summing harmonic amplitudes" (ISMIR 2006).
 */
final class Pitches
{
    public const LOWEST = 28;
    public const HIGHEST = 96;
    private const HARMONICS = 12;
    private const HIGHEST_HZ = 6000.0;
    /** How far spectra are flattened before they are summed: a power of the level around. */
    private const FLATTENED = 0.36;
    private const ALPHA_HZ = 52.0;
    private const BETA_HZ = 320.0;
    /** How much of a note's harmonics is taken out before the next is looked for. */
    private const TAKEN = 0.92;
    /** Share of the power from which a harmonic is there. */
    private const HEARD_SHARE = 0.004;

    public readonly Fft $fft;
    private readonly float $binHz;
    /** @var array<int, list<array{int, int, float}>> for each note first and last bin of each harmonic, and its weight */
    private array $harmonics = [];
    /** @var list<float> */
    private readonly array $window;

    /** @param float $tuning by how many semitones all of the recording is off */
    public function __construct(private readonly int $rate, public readonly int $frames, float $tuning = 0.0)
    {
        $this->fft = Fft::near(2.0 * $frames);
        $this->binHz = $rate / $this->fft->size;
        $this->window = Window::hann($frames);
        for ($note = self::LOWEST; $note <= self::HIGHEST; ++$note) {
            $hz = 440.0 * 2.0 ** (($note + $tuning - 69) / 12.0);
            for ($h = 1; $h <= self::HARMONICS && $h * $hz < min(self::HIGHEST_HZ, 0.45 * $rate); ++$h) {
                // Strings are stiff: upper harmonics lie somewhat higher.
                $low = (int) floor($h * $hz * 2.0 ** (-0.35 / 12.0) / $this->binHz);
                $high = (int) ceil($h * $hz * 2.0 ** ((0.35 + 0.012 * $h * $h / 12.0) / 12.0) / $this->binHz);
                $this->harmonics[$note][] = [max(1, $low), $high, ($hz + self::ALPHA_HZ) / ($h * $hz + self::BETA_HZ)];
            }
        }
    }

    /**
     * @param list<float> $values so many frames; fewer are taken as silence behind
     *
     * @return list<float> magnitudes
     */
    public function spectrum(array $values): array
    {
        $windowed = array_fill(0, $this->fft->size, 0.0);
        foreach ($values as $i => $value) {
            $windowed[$i] = $value * $this->window[$i];
        }

        return $this->fft->magnitudes(array_values($windowed));
    }

    /**
     * @param list<float> $magnitudes
     *
     * @return list<float> with the level around each bin taken out as far as it is
     */
    public function flattened(array $magnitudes): array
    {
        $flat = $magnitudes;
        $last = min(\count($magnitudes) - 1, (int) (self::HIGHEST_HZ / $this->binHz));
        $sums = [0.0];
        foreach ($magnitudes as $m) {
            $sums[] = $sums[\count($sums) - 1] + $m * $m;
        }
        for ($k = 1; $k <= $last; ++$k) {
            $reach = (int) max(60.0 / $this->binHz, 0.35 * $k);
            $low = max(1, $k - $reach);
            $high = min($last, $k + $reach);
            $around = sqrt(($sums[$high + 1] - $sums[$low]) / ($high - $low + 1)) + 1e-9;
            $flat[$k] = $magnitudes[$k] * $around ** (self::FLATTENED - 1.0);
        }

        return array_values(\array_slice($flat, 0, $last + 1));
    }

    /**
     * @param list<float> $flat
     *
     * @return array<int, float> strength by note
     */
    public function strengths(array $flat): array
    {
        $strengths = [];
        foreach ($this->harmonics as $note => $harmonics) {
            $sum = 0.0;
            foreach ($harmonics as [$low, $high, $weight]) {
                $sum += $weight * self::top($flat, $low, $high);
            }
            $strengths[$note] = $sum;
        }

        return $strengths;
    }

    /**
     * The strongest note, then the strongest of what is left without it, and so on.
     *
     * @param list<float> $flat as flattened() gives it
     *
     * @return array<int, float> strength by note, in the order they were found
     */
    public function taken(array $flat, int $most): array
    {
        $found = [];
        while (\count($found) < $most) {
            $strengths = array_diff_key($this->strengths($flat), $found);
            if ([] === $strengths || max($strengths) <= 0.0) {
                break;
            }
            $best = (int) array_search(max($strengths), $strengths, true);
            $found[$best] = $strengths[$best];
            $flat = $this->without($flat, $best);
        }

        return $found;
    }

    /**
     * @param list<float> $magnitudes
     *
     * @return non-empty-list<float> magnitude of each of a note's harmonics, 0 where it lies too high
     */
    public function tops(array $magnitudes, int $note, int $harmonics): array
    {
        return array_map(function (int $h) use ($magnitudes, $note): float {
            [$low, $high] = $this->harmonics[$note][$h] ?? [1, 0];

            return self::top($magnitudes, $low, $high);
        }, range(0, $harmonics - 1));
    }

    /**
     * @param list<float> $flat
     *
     * @return list<float>
     */
    private function without(array $flat, int $note): array
    {
        $harmonics = $this->harmonics[$note];
        $tops = array_map(static fn (array $h): float => self::top($flat, $h[0], $h[1]), $harmonics);
        foreach ($harmonics as $i => [$low, $high]) {
            // A harmonic that stands out of its neighbours belongs to another note as well.
            $smooth = ($tops[$i] + ($tops[$i - 1] ?? $tops[$i]) + ($tops[$i + 1] ?? $tops[$i])) / 3.0;
            $share = $tops[$i] <= 0.0 ? 0.0 : self::TAKEN * min(1.0, $smooth / $tops[$i]);
            for ($k = max(1, $low - 2), $end = min(\count($flat) - 1, $high + 2); $k <= $end; ++$k) {
                $flat[$k] *= 1.0 - $share;
            }
        }

        return array_values($flat);
    }

    /**
     * The strongest peaks of a spectrum between 100 and 1,500 Hz.
     *
     * @param list<float> $magnitudes
     *
     * @return list<array{float, float}> MIDI number with its fraction, and strength
     */
    public function peaks(array $magnitudes): array
    {
        $peaks = [];
        for ($k = (int) (100.0 / $this->binHz), $last = (int) (1500.0 / $this->binHz); $k < $last; ++$k) {
            [$a, $b, $c] = [$magnitudes[$k - 1], $magnitudes[$k], $magnitudes[$k + 1]];
            if ($b > $a && $b >= $c && $b > 0.0) {
                $bend = $a - 2.0 * $b + $c;
                $peaks[] = [69.0 + 12.0 * log(($k + (0.0 === $bend ? 0.0 : 0.5 * ($a - $c) / $bend)) * $this->binHz / 440.0, 2), $b];
            }
        }
        usort($peaks, static fn (array $p, array $q): int => $q[1] <=> $p[1]);

        return \array_slice($peaks, 0, 6);
    }

    /**
     * The power of a note's first six harmonics in a spectrum.
     *
     * @param list<float> $magnitudes
     *
     * @return list<float>
     */
    public function powers(array $magnitudes, int $note): array
    {
        return array_map(static fn (array $h): float => self::top($magnitudes, $h[0], $h[1]) ** 2, \array_slice($this->harmonics[$note] ?? [], 0, 6));
    }

    /**
     * Whether a spectrum may be one tone of a note: two that share a period have none of its first harmonics between them.
     *
     * @param list<float> $magnitudes
     */
    public function isOneTone(array $magnitudes, int $note): bool
    {
        $harmonics = $this->harmonics[$note] ?? [];
        $powers = array_map(static fn (array $h): float => self::top($magnitudes, $h[0], $h[1]) ** 2, $harmonics);
        $least = self::HEARD_SHARE * array_sum($powers);

        return ($powers[0] ?? 0.0) > $least || (($powers[4] ?? 0.0) > $least && ($powers[6] ?? 0.0) > $least);
    }

    /** @param list<float> $values */
    private static function top(array $values, int $low, int $high): float
    {
        $top = 0.0;
        for ($k = $low, $end = min($high, \count($values) - 1); $k <= $end; ++$k) {
            if ($values[$k] > $top) {
                $top = $values[$k];
            }
        }

        return $top;
    }
}
