<?php

namespace Pestle\Core\Synth;

/** A wave's table read at a pitch, with a straight line between its places: a block at once. Phases and widths are in turns, pitches in turns a frame. */
final class TableReading
{
    /**
     * @param list<float> $table
     *
     * @return list<float>
     */
    public static function plain(array $table, float $phase, float $turns): array
    {
        $out = [];
        $size = (float) Wavetables::SIZE;
        for ($i = 0; $i < MadeNote::BLOCK; ++$i) {
            $place = ($phase - (int) $phase) * $size;
            $k = (int) $place;
            $a = $table[$k];
            $out[] = $a + ($place - $k) * ($table[$k + 1] - $a);
            $phase += $turns;
        }

        return $out;
    }

    /**
     * As plain(), added to both sides at once.
     *
     * @param list<float> $left
     * @param list<float> $right
     * @param list<float> $table
     *
     * @return array{list<float>, list<float>}
     */
    public static function added(array $left, array $right, array $table, float $phase, float $turns, float $l, float $r): array
    {
        $size = (float) Wavetables::SIZE;
        foreach ($left as $i => $x) {
            $place = ($phase - (int) $phase) * $size;
            $k = (int) $place;
            $a = $table[$k];
            $y = $a + ($place - $k) * ($table[$k + 1] - $a);
            $left[$i] = $x + $y * $l;
            $right[$i] += $y * $r;
            $phase += $turns;
        }

        return [$left, array_values($right)];
    }

    /**
     * @param list<float> $table
     * @param list<float> $bent  turns
     *
     * @return list<float>
     */
    public static function bent(array $table, float $phase, float $turns, array $bent): array
    {
        $out = [];
        $size = (float) Wavetables::SIZE;
        $phase += 64.0;
        for ($i = 0; $i < MadeNote::BLOCK; ++$i) {
            $at = $phase + $bent[$i];
            $place = ($at - (int) $at) * $size;
            $k = (int) $place;
            $a = $table[$k];
            $out[] = $a + ($place - $k) * ($table[$k + 1] - $a);
            $phase += $turns;
        }

        return $out;
    }

    /**
     * A saw against one that is apart by the width.
     *
     * @param list<float> $table
     * @param list<float> $bent
     *
     * @return list<float>
     */
    public static function pulse(array $table, float $phase, float $turns, array $bent, float $from, float $to): array
    {
        $out = [];
        $size = (float) Wavetables::SIZE;
        $phase += 64.0;
        $slope = ($to - $from) / MadeNote::BLOCK;
        for ($i = 0; $i < MadeNote::BLOCK; ++$i) {
            $at = $phase + ($bent[$i] ?? 0.0);
            $place = ($at - (int) $at) * $size;
            $k = (int) $place;
            $a = $table[$k];
            $first = $a + ($place - $k) * ($table[$k + 1] - $a);
            $at += $from + $slope * $i;
            $place = ($at - (int) $at) * $size;
            $k = (int) $place;
            $a = $table[$k];
            $out[] = $first - ($a + ($place - $k) * ($table[$k + 1] - $a));
            $phase += $turns;
        }

        return $out;
    }
}
