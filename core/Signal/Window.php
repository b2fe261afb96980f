<?php

namespace Pestle\Core\Signal;

/** Window functions. */
final class Window
{
    /** @return list<float> periodic Hann window */
    public static function hann(int $size): array
    {
        $out = [];
        for ($i = 0; $i < $size; ++$i) {
            $out[] = 0.5 - 0.5 * cos(2 * \M_PI * $i / $size);
        }

        return $out;
    }

    /** Half of a Hann window: from 0 at 0 to 1 at 1 without a corner. What rises so and what falls so make 1 together. */
    public static function rise(float $share): float
    {
        return 0.5 - 0.5 * cos(\M_PI * $share);
    }

    /**
     * Kaiser window at $x in -1 to 1.
     * Source: J. F. Kaiser, "Nonrecursive digital filter design using the I0-sinh window function" (1974).
     */
    public static function kaiser(float $x, float $beta): float
    {
        return $x * $x >= 1.0 ? 0.0 : self::besselI0($beta * sqrt(1.0 - $x * $x)) / self::besselI0($beta);
    }

    /** Modified Bessel function of order zero, by its power series. */
    private static function besselI0(float $x): float
    {
        $sum = $term = 1.0;
        $half = $x * $x / 4.0;
        for ($k = 1; $term > 1e-12 * $sum; ++$k) {
            $term *= $half / ($k * $k);
            $sum += $term;
        }

        return $sum;
    }
}
