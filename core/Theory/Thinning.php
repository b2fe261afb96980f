<?php

namespace Pestle\Core\Theory;

/**
 * Few points for many: those between which the others lie near the straight way.
 * Source: U. Ramer, "An iterative procedure for the polygonal approximation of plane curves" (1972); D. H. Douglas and
 * T. K. Peucker, "Algorithms for the reduction of the number of points required to represent a digitized line" (1973).
 */
final class Thinning
{
    /**
     * @param non-empty-list<array{float, float}> $points tick and value, in order of time
     * @param float                               $near   how far off, in values, what is left out may lie
     *
     * @return non-empty-list<array{float, float}> the first and the last among them
     */
    public static function of(array $points, float $near): array
    {
        $last = \count($points) - 1;
        $kept = [0 => true, $last => true];
        $open = [[0, $last]];
        while ([] !== $open) {
            [$from, $to] = array_pop($open);
            [$furthest, $most] = [null, $near];
            for ($i = $from + 1; $i < $to; ++$i) {
                $off = abs($points[$i][1] - self::between($points[$from], $points[$to], $points[$i][0]));
                if ($off > $most) {
                    [$furthest, $most] = [$i, $off];
                }
            }
            if (null !== $furthest) {
                $kept[$furthest] = true;
                array_push($open, [$from, $furthest], [$furthest, $to]);
            }
        }
        ksort($kept);

        return array_values(array_intersect_key($points, $kept)) ?: [$points[0]];
    }

    /**
     * @param array{float, float} $from
     * @param array{float, float} $to
     */
    private static function between(array $from, array $to, float $tick): float
    {
        return $to[0] <= $from[0] ? $to[1] : $from[1] + ($to[1] - $from[1]) * ($tick - $from[0]) / ($to[0] - $from[0]);
    }
}
