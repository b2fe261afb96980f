<?php

namespace Pestle\Core\Signal;

/**
 * The grids that make sums exact. Numbers are rounded to the nearest multiple of a power of two by
 * adding and subtracting a constant whose last binary place is that power (round half to even, IEEE 754).
 * Sound lies on 2^-23, so that sums are equal in any order; filter state lies on 2^-32.
 */
final class Grid
{
    /** Write `($x + Grid::SOUND) - Grid::SOUND` inside loops. */
    public const SOUND = 805306368.0;
    public const STEP = 1.0 / 8388608.0;
    /** Write `($s + Grid::STATE) - Grid::STATE` inside loops. */
    public const STATE = 1572864.0;

    /**
     * @param list<float> $values
     *
     * @return list<float>
     */
    public static function state(array $values): array
    {
        foreach ($values as $i => $v) {
            $values[$i] = ($v + self::STATE) - self::STATE;
        }

        return $values;
    }
}
