<?php

namespace Pestle\Core\Signal;

/** Two second-order sections in series over one side, in one loop (transposed direct form II). */
final class BiquadPair
{
    /**
     * @param list<float>                       $signal
     * @param array{float, float, float, float} $state  two values a section
     *
     * @return array{list<float>, array{float, float, float, float}} the sound and the state after it
     */
    public static function filter(array $signal, Biquad $a, Biquad $b, array $state): array
    {
        return self::run($signal, ...$a->coefficients(), ...$b->coefficients(), ...$state);
    }

    /**
     * With other coefficients at every step, after each of which the state lies on its grid, as it does between blocks.
     *
     * @param list<float>                       $signal
     * @param list<float>                       $coefficients ten for each step: of the first section and of the second
     * @param int                               $step         frames
     * @param array{float, float, float, float} $state        two values a section
     *
     * @return array{list<float>, array{float, float, float, float}} the sound and the state after it
     */
    public static function stepped(array $signal, array $coefficients, int $step, array $state): array
    {
        return self::runSteps($signal, $coefficients, $step, Grid::STATE, ...$state);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $coefficients
     *
     * @return array{list<float>, array{float, float, float, float}}
     */
    private static function runSteps(array $signal, array $coefficients, int $step, float $grid, float $s1, float $s2, float $t1, float $t2): array
    {
        $tiny = Biquad::TINY;
        $n = \count($signal);
        for ($i = $k = 0; $i < $n; $k += 10) {
            [$b0, $b1, $b2, $a1, $a2] = [(float) $coefficients[$k], (float) $coefficients[$k + 1], (float) $coefficients[$k + 2], (float) $coefficients[$k + 3], (float) $coefficients[$k + 4]];
            [$d0, $d1, $d2, $c1, $c2] = [(float) $coefficients[$k + 5], (float) $coefficients[$k + 6], (float) $coefficients[$k + 7], (float) $coefficients[$k + 8], (float) $coefficients[$k + 9]];
            for ($end = min($n, $i + $step); $i < $end; ++$i) {
                $x = $signal[$i];
                if (!\is_float($x)) {
                    throw new \TypeError('Sound is floats.');
                }
                $y = $b0 * $x + $s1;
                $s1 = $s2 + $b1 * $x - $a1 * $y;
                $s2 = $b2 * $x - $a2 * $y + $tiny;
                $z = $d0 * $y + $t1;
                $t1 = $t2 + $d1 * $y - $c1 * $z;
                $t2 = $d2 * $y - $c2 * $z + $tiny;
                $signal[$i] = $z;
            }
            $s1 = ($s1 + $grid) - $grid;
            $s2 = ($s2 + $grid) - $grid;
            $t1 = ($t1 + $grid) - $grid;
            $t2 = ($t2 + $grid) - $grid;
        }

        return [array_values($signal), [$s1, $s2, $t1, $t2]];
    }

    /**
     * The numbers come as parameters and every value is checked to be one: the compiler keeps in registers only what it knows the type of.
     *
     * @param list<float> $signal
     *
     * @return array{list<float>, array{float, float, float, float}}
     */
    private static function run(
        array $signal, float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
        float $s1, float $s2, float $t1, float $t2,
    ): array {
        $tiny = Biquad::TINY;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $y = $b0 * $x + $s1;
            $s1 = $s2 + $b1 * $x - $a1 * $y;
            $s2 = $b2 * $x - $a2 * $y + $tiny;
            $z = $d0 * $y + $t1;
            $t1 = $t2 + $d1 * $y - $c1 * $z;
            $t2 = $d2 * $y - $c2 * $z + $tiny;
            $signal[$i] = $z;
        }

        return [array_values($signal), [$s1, $s2, $t1, $t2]];
    }
}
