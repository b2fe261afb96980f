<?php

namespace Pestle\Core\Render;

/** Constant power, unity in the middle: sin and cos of a quarter circle, times the square root of two. */
final class Panning
{
    /**
     * @param float $pan -1 left to 1 right
     *
     * @return array{float, float} gains of left and right
     */
    public static function gains(float $pan): array
    {
        if (0.0 === $pan) {
            return [1.0, 1.0];
        }
        $angle = ($pan + 1.0) * \M_PI / 4.0;

        return [\M_SQRT2 * cos($angle), \M_SQRT2 * sin($angle)];
    }
}
