<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Formants;
use Pestle\Core\Signal\StateVariable;

/** A sound's filter where it is the formants of a vowel, side by side; the cut-off says which vowel. */
final class VowelTone
{
    private const FORMANTS = 3;
    /** Values of state of one side. */
    public const VALUES = 2 * self::FORMANTS;
    /** Cut-off of the first vowel; the next ones lie an octave higher each. */
    private const FIRST_HZ = 250.0;
    private const STEP = StateVariable::STEP;

    /**
     * One side through it.
     *
     * @param list<float> $signal
     * @param list<float> $cutoffs Hz for every STEP frames
     * @param float       $q       of each formant
     * @param list<float> $state   VALUES values
     *
     * @return array{list<float>, list<float>} the sound and the state after it
     */
    public static function side(array $signal, array $cutoffs, float $q, array $state): array
    {
        $formants = self::formants($cutoffs, $q);
        $out = array_fill(0, \count($signal), 0.0);
        $after = [];
        foreach ($formants as $k => [$warped, $gains]) {
            [$band, $one, $two] = StateVariable::filter($signal, $warped, 1.0 / $q, [0.0, 1.0 / $q, 0.0], $state[2 * $k], $state[2 * $k + 1]);
            $out = self::added($out, $band, $gains);
            array_push($after, $one, $two);
        }

        return [$out, $after];
    }

    /** Gain at a frequency, of a vowel that stays. */
    public static function response(float $cutoffHz, float $q, float $hz): float
    {
        $real = $imaginary = 0.0;
        foreach (self::formants([$cutoffHz], $q) as [$warped, $gains]) {
            // The analogue resonance where the bilinear transform puts this frequency: (w/q) i over 1 - w² + (w/q) i.
            $w = tan(\M_PI * $hz / Beat::SAMPLE_RATE) / $warped[0];
            [$a, $b] = [1.0 - $w * $w, $w / $q];
            $real += $gains[0] * $b * $b / ($a * $a + $b * $b);
            $imaginary += $gains[0] * $a * $b / ($a * $a + $b * $b);
        }

        return hypot($real, $imaginary);
    }

    /**
     * @param list<float> $cutoffs
     *
     * @return list<array{non-empty-list<float>, non-empty-list<float>}> of each formant tan(pi hz / rate) and the gain, for each
     */
    private static function formants(array $cutoffs, float $q): array
    {
        $before = null;
        $warped = $gains = [[], [], []];
        $now = [[0.0, 0.0, 0.0], [0.0, 0.0, 0.0]];
        foreach ($cutoffs as $hz) {
            if ($hz !== $before) {
                [$own, $levels] = Formants::of(log(max(1.0, $hz) / self::FIRST_HZ, 2));
                $makeup = Formants::makeup($levels, $q);
                $now = [array_map(static fn (float $f): float => tan(\M_PI * $f / Beat::SAMPLE_RATE), $own), array_map(static fn (float $g): float => $makeup * $g, $levels)];
                $before = $hz;
            }
            for ($k = 0; $k < self::FORMANTS; ++$k) {
                $warped[$k][] = $now[0][$k];
                $gains[$k][] = $now[1][$k];
            }
        }

        return array_map(static fn (array $w, array $g): array => [$w ?: [1.0], $g ?: [0.0]], $warped, $gains);
    }

    /**
     * @param list<float> $sum
     * @param list<float> $band
     * @param list<float> $gains for every STEP frames; between two it goes evenly
     *
     * @return list<float>
     */
    private static function added(array $sum, array $band, array $gains): array
    {
        $last = \count($gains) - 1;
        foreach ($band as $i => $value) {
            $k = intdiv($i, self::STEP);
            $gain = $gains[$k] + ($gains[$k < $last ? $k + 1 : $last] - $gains[$k]) * ($i % self::STEP) / self::STEP;
            $sum[$i] += $gain * $value;
        }

        return array_values($sum);
    }
}
