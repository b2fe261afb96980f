<?php

namespace Pestle\Core\Signal;

/**
 * A second-order filter whose cut-off may move: its state is the charge of two integrators, so that it stays as it is
 * whatever its coefficients do. Set still, its response is that of the analogue filter through the bilinear transform.
 *
 * Source: A. Simper, "Linear trapezoidal integrated state variable filter" (2013), after V. Zavalishin, "The art of VA
 * filter design".
 */
final class StateVariable
{
    /** Frames for which one set of coefficients holds. */
    public const STEP = 16;

    /**
     * @param list<float> $warped tan(pi hz / rate) for every STEP frames
     * @param float       $k      1 / Q
     *
     * @return array{list<float>, list<float>, list<float>} coefficients a1, a2, a3 for every STEP frames
     */
    public static function coefficients(array $warped, float $k): array
    {
        $a1 = $a2 = $a3 = [];
        foreach ($warped as $g) {
            $one = 1.0 / (1.0 + $g * ($g + $k));
            $two = $g * $one;
            $a1[] = $one;
            $a2[] = $two;
            $a3[] = $g * $two;
        }

        return [$a1, $a2, $a3];
    }

    /**
     * One side through it: $dry of what goes in, $band and $low of what the filter has there.
     *
     * @param list<float>                                  $signal
     * @param array{list<float>, list<float>, list<float>} $coefficients
     * @param array{float, float}                          $state
     *
     * @return array{list<float>, array{float, float}} the sound and the state after it
     */
    public static function filter(array $signal, array $coefficients, float $dry, float $band, float $low, array $state): array
    {
        return self::run($signal, $coefficients[0], $coefficients[1], $coefficients[2], $dry, $band, $low, $state[0], $state[1]);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $a1
     * @param list<float> $a2
     * @param list<float> $a3
     *
     * @return array{list<float>, array{float, float}}
     */
    private static function run(array $signal, array $a1, array $a2, array $a3, float $dry, float $band, float $low, float $s1, float $s2): array
    {
        $tiny = Biquad::TINY;
        $n = \count($signal);
        for ($i = 0, $k = 0; $i < $n; ++$k) {
            [$one, $two, $three] = [$a1[$k], $a2[$k], $a3[$k]];
            if (!\is_float($one) || !\is_float($two) || !\is_float($three)) {
                throw new \TypeError('Coefficients are floats.');
            }
            for ($end = $i + self::STEP < $n ? $i + self::STEP : $n; $i < $end; ++$i) {
                $x = $signal[$i];
                if (!\is_float($x)) {
                    throw new \TypeError('Sound is floats.');
                }
                $d = $x - $s2;
                $v1 = $one * $s1 + $two * $d;
                $v2 = $s2 + $two * $s1 + $three * $d;
                $s1 = $v1 + $v1 - $s1 + $tiny;
                $s2 = $v2 + $v2 - $s2;
                $signal[$i] = $dry * $x + $band * $v1 + $low * $v2;
            }
        }

        return [array_values($signal), [$s1, $s2]];
    }
}
