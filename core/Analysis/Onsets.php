<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Peak;

/**
 * Where hits begin: peaks of the onset strength that a fitted network takes for hits (see OnsetCues), each moved to
 * where the energy begins to rise just around it.
 * Source: J. P. Bello et al., "A tutorial on onset detection in music signals" (IEEE TSAP 2005).
 */
final class Onsets
{
    /** Log odds from which a peak counts at a sensitivity of 0.5, and how they change over its range. */
    private const USUAL = 0.5;
    private const RANGE = 20.0;

    /**
     * @param float $sensitivity 0 (few) to 1 (many)
     * @param float $shortest    least distance of two onsets in seconds
     *
     * @return list<int> frames of the source, ascending
     */
    public static function find(AudioSource $source, float $sensitivity = 0.5, float $shortest = 0.04): array
    {
        return self::pick($source, OnsetStrength::of($source), $sensitivity, $shortest);
    }

    /**
     * @param float $sensitivity 0 (few) to 1 (many)
     * @param float $shortest    seconds
     *
     * @return list<int> frames of the source, ascending
     */
    public static function pick(AudioSource $source, OnsetStrength $strength, float $sensitivity, float $shortest): array
    {
        $enough = self::USUAL + self::RANGE * (0.5 - $sensitivity);
        $found = [];
        $last = -\INF;
        foreach ($strength->odds as $i => $odds) {
            if ($odds < $enough) {
                continue;
            }
            $frame = self::place($source, $i * $strength->hop);
            if ($frame - $last >= $shortest * $source->sampleRate()) {
                $found[] = $frame;
                $last = $frame;
            }
        }

        return $found;
    }

    /**
     * Where a hit begins: where the energy of the differences (so that highs count as much as lows) rises most above what it
     * was in the 12 ms before, from 15 ms before a peak of the strength to 4 ms after it, and from there back to where it
     * began to rise.
     *
     * @param int $frame of the peak, in the source
     */
    public static function place(AudioSource $source, int $frame): int
    {
        $step = max(1, (int) ($source->sampleRate() * 0.001));
        $back = 12;
        $reach = 19;
        $start = $frame - (15 + $back) * $step;
        $block = $source->read($start - 1, ($back + $reach + 1) * $step + 1);
        $energy = array_fill(0, $back + $reach + 1, 1e-9);
        $before = $block->left[0] + $block->right[0];
        foreach ($block->left as $i => $l) {
            $x = $l + $block->right[$i];
            $energy[$i > 0 ? intdiv($i - 1, $step) : 0] += ($x - $before) * ($x - $before);
            $before = $x;
        }
        $best = $back + 15;
        $most = 0.0;
        for ($i = $back; $i < $back + $reach; ++$i) {
            $was = Peak::of(\array_slice($energy, $i - $back, $back));
            $is = ($energy[$i] + $energy[$i + 1]) / 2.0;
            $rise = $is > $was ? log($is / $was) * sqrt($is) : 0.0;
            if ($rise > $most) {
                $most = $rise;
                $best = $i;
            }
        }
        while ($best > $back && $energy[$best - 1] < $energy[$best] && $energy[$best - 1] > 0.03 * $energy[$best]) {
            --$best;
        }

        return max(0, $start + $best * $step);
    }
}
