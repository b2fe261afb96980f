<?php

namespace Pestle\Tests\Hearing;

/** Numbers drawn from mt_rand, so that a seed repeats them. */
final class Chance
{
    public static function often(int $percent): bool
    {
        return mt_rand(1, 100) <= $percent;
    }

    public static function between(float $least, float $most): float
    {
        return $least + ($most - $least) * mt_rand(0, 10000) / 10000;
    }

    /** About normal, with deviation 0.58. */
    public static function normal(): float
    {
        return mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 - 2.0;
    }
}
