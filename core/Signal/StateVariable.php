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
     * One side through it.
     *
     * @param list<float>                $signal
     * @param list<float>                $warped tan(pi hz / rate) for every STEP frames
     * @param float                      $k      1 / Q
     * @param array{float, float, float} $mix    how much of what goes in comes out, of the band and of the low-pass
     *
     * @return array{list<float>, float, float} the sound and the state after it
     */
    public static function filter(array $signal, array $warped, float $k, array $mix, float $s1, float $s2): array
    {
        return self::run($signal, $warped, $k, $mix[0], $mix[1], $mix[2], $s1, $s2);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $warped
     *
     * @return array{list<float>, float, float}
     */
    private static function run(array $signal, array $warped, float $k, float $dry, float $band, float $low, float $s1, float $s2): array
    {
        $tiny = Biquad::TINY;
        $n = \count($signal);
        $i = 0;
        foreach ($warped as $g) {
            if (!\is_float($g)) {
                throw new \TypeError('Coefficients are floats.');
            }
            $one = 1.0 / (1.0 + $g * ($g + $k));
            $two = $g * $one;
            $three = $g * $two;
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

        return [array_values($signal), $s1, $s2];
    }

    /**
     * Two of them in series with the same cut-off, in one loop.
     *
     * @param list<float>                $signal
     * @param list<float>                $warped as filter()
     * @param array{float, float}        $k      1 / Q of each
     * @param array{float, float, float} $mix    of the first
     * @param array{float, float, float} $then   of the second
     * @param list<float>                $state  two values of each
     *
     * @return array{list<float>, list<float>} the sound and the state after it
     */
    public static function pair(array $signal, array $warped, array $k, array $mix, array $then, array $state): array
    {
        return self::runPair($signal, $warped, $k[0], $k[1], $mix[0], $mix[1], $mix[2], $then[0], $then[1], $then[2], $state[0], $state[1], $state[2], $state[3]);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $warped
     *
     * @return array{list<float>, list<float>}
     */
    private static function runPair(
        array $signal, array $warped, float $k, float $l, float $dry, float $band, float $low, float $dry2, float $band2, float $low2,
        float $s1, float $s2, float $t1, float $t2,
    ): array {
        $tiny = Biquad::TINY;
        $n = \count($signal);
        $i = 0;
        foreach ($warped as $g) {
            if (!\is_float($g)) {
                throw new \TypeError('Coefficients are floats.');
            }
            $one = 1.0 / (1.0 + $g * ($g + $k));
            $two = $g * $one;
            $three = $g * $two;
            $first = 1.0 / (1.0 + $g * ($g + $l));
            $second = $g * $first;
            $third = $g * $second;
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
                $x = $dry * $x + $band * $v1 + $low * $v2;
                $d = $x - $t2;
                $v1 = $first * $t1 + $second * $d;
                $v2 = $t2 + $second * $t1 + $third * $d;
                $t1 = $v1 + $v1 - $t1 + $tiny;
                $t2 = $v2 + $v2 - $t2;
                $signal[$i] = $dry2 * $x + $band2 * $v1 + $low2 * $v2;
            }
        }

        return [array_values($signal), [$s1, $s2, $t1, $t2]];
    }
}
