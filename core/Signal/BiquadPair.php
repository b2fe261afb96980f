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
