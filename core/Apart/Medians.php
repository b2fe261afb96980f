<?php

namespace Pestle\Core\Apart;

/**
 * What lies still and what is struck: tones are smooth along time, strikes along frequency, so the median of a bin over time
 * is mostly tone, the one over its neighbours mostly strike.
 * Source: D. Fitzgerald, "Harmonic/percussive separation using median filtering" (DAFx 2010); the median of nine by 19
 * exchanges after A. W. Paeth, "Median finding on a 3x3 grid" (Graphics Gems, 1990).
 */
final class Medians
{
    /** How far the outermost of nine lies from the middle, in spectra and in bins; every second is looked at. */
    public const REACH = 8;

    /**
     * @param list<list<float>> $around magnitudes of spectra from REACH before to REACH after
     *
     * @return list<float> of each bin, how much of its power is tone
     */
    public static function tonal(array $around): array
    {
        $tones = self::ofNine($around[0], $around[2], $around[4], $around[6], $around[8], $around[10], $around[12], $around[14], $around[16]);
        $own = $around[self::REACH];
        $edge = array_fill(0, self::REACH, 0.0);
        $wide = [...$edge, ...$own, ...$edge];
        $n = \count($own);
        $strikes = self::ofNine($wide, \array_slice($wide, 2, $n), \array_slice($wide, 4, $n), \array_slice($wide, 6, $n), $own, \array_slice($wide, 10, $n), \array_slice($wide, 12, $n), \array_slice($wide, 14, $n), \array_slice($wide, 16, $n));
        foreach ($tones as $k => $tone) {
            $strike = $strikes[$k];
            $tone *= $tone;
            $tones[$k] = $tone / ($tone + $strike * $strike + 1e-18);
        }

        return $tones;
    }

    /**
     * The median of nine values, at each place of nine lists.
     *
     * @param list<float> $a
     * @param list<float> $b
     * @param list<float> $c
     * @param list<float> $d
     * @param list<float> $e as many values as are wanted
     * @param list<float> $f
     * @param list<float> $g
     * @param list<float> $h
     * @param list<float> $i
     *
     * @return list<float>
     */
    public static function ofNine(array $a, array $b, array $c, array $d, array $e, array $f, array $g, array $h, array $i): array
    {
        foreach ($e as $k => $p4) {
            $p0 = $a[$k];
            $p1 = $b[$k];
            $p2 = $c[$k];
            $p3 = $d[$k];
            $p5 = $f[$k];
            $p6 = $g[$k];
            $p7 = $h[$k];
            $p8 = $i[$k];
            if ($p1 > $p2) {
                $x = $p1;
                $p1 = $p2;
                $p2 = $x;
            }
            if ($p4 > $p5) {
                $x = $p4;
                $p4 = $p5;
                $p5 = $x;
            }
            if ($p7 > $p8) {
                $x = $p7;
                $p7 = $p8;
                $p8 = $x;
            }
            if ($p0 > $p1) {
                $x = $p0;
                $p0 = $p1;
                $p1 = $x;
            }
            if ($p3 > $p4) {
                $x = $p3;
                $p3 = $p4;
                $p4 = $x;
            }
            if ($p6 > $p7) {
                $x = $p6;
                $p6 = $p7;
                $p7 = $x;
            }
            if ($p1 > $p2) {
                $x = $p1;
                $p1 = $p2;
                $p2 = $x;
            }
            if ($p4 > $p5) {
                $x = $p4;
                $p4 = $p5;
                $p5 = $x;
            }
            if ($p7 > $p8) {
                $x = $p7;
                $p7 = $p8;
                $p8 = $x;
            }
            $p3 = $p0 > $p3 ? $p0 : $p3;
            $p5 = $p5 < $p8 ? $p5 : $p8;
            if ($p4 > $p7) {
                $x = $p4;
                $p4 = $p7;
                $p7 = $x;
            }
            $p6 = $p3 > $p6 ? $p3 : $p6;
            $p4 = $p1 > $p4 ? $p1 : $p4;
            $p2 = $p2 < $p5 ? $p2 : $p5;
            $p4 = $p4 < $p7 ? $p4 : $p7;
            if ($p4 > $p2) {
                $x = $p4;
                $p4 = $p2;
                $p2 = $x;
            }
            $p4 = $p6 > $p4 ? $p6 : $p4;
            $e[$k] = $p4 < $p2 ? $p4 : $p2;
        }

        return $e;
    }
}
