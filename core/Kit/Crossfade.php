<?php

namespace Pestle\Core\Kit;

/** How sounds that answer stretches of keys or strengths go over into each other: at equal power, around the edge that they have in common. */
final readonly class Crossfade
{
    /**
     * @param int $low  first value of its stretch; at $least nothing is before it
     * @param int $high last one; at 127 nothing comes after it
     * @param int $over so many values, half of them on either side of an edge; 0 for a cut
     *
     * @return float 0 to 1
     */
    public static function share(int $value, int $low, int $high, int $over, int $least): float
    {
        if ($over < 1) {
            return $value >= $low && $value <= $high ? 1.0 : 0.0;
        }
        $into = $low <= $least ? 1.0 : ($value - ($low - 0.5)) / $over + 0.5;
        $out = 127 === $high ? 1.0 : ($high + 0.5 - $value) / $over + 0.5;

        return sin(\M_PI_2 * max(0.0, min(1.0, $into))) * sin(\M_PI_2 * max(0.0, min(1.0, $out)));
    }
}
