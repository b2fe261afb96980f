<?php

namespace Pestle\Core\Signal;

/**
 * A way from 0 to 1 that may be bent: (1 - exp(-k t)) / (1 - exp(-k)) with k = 6 times the bend; straight at 0, fast first
 * above it, fast last below. Frame after frame it is one multiplication, begun anew at every CHUNK frames, so that a
 * frame has the same value from wherever one reads.
 */
final class Bend
{
    public const CHUNK = 1024;
    private const STEEPEST = 6.0;

    /** @param float $way 0 to 1 */
    public static function at(float $way, float $bend): float
    {
        $k = self::STEEPEST * $bend;

        return abs($k) < 1e-6 ? $way : (1.0 - exp(-$k * $way)) / (1.0 - exp(-$k));
    }

    /**
     * A way from one value to another, at every so many frames of it; at its end it stays.
     *
     * @param int $frames how long the whole of it takes, at least 1
     * @param int $first  frame of it at which the values begin
     *
     * @return list<float>
     */
    public static function every(float $from, float $to, int $frames, float $bend, int $first, int $step, int $count): array
    {
        $k = self::STEEPEST * $bend;
        $span = ($to - $from) / (1.0 - exp(-$k));
        $values = [];
        for ($i = 0; $i < $count; ++$i) {
            $way = ($first + $i * $step) / $frames;
            $values[] = $way >= 1.0 ? $to : $from + $span * (1.0 - exp(-$k * $way));
        }

        return $values;
    }

    /**
     * Frames of a way from one value to another within a chunk.
     *
     * @param int $frames how long the whole of it takes, at least 1
     * @param int $first  frame of it at which the values begin
     *
     * @return list<float>
     */
    public static function values(float $from, float $to, int $frames, float $bend, int $first, int $count): array
    {
        $k = self::STEEPEST * $bend;
        $values = [];
        if (abs($k) < 1e-6) {
            $step = ($to - $from) / $frames;
            for ($i = 0; $i < $count; ++$i) {
                $values[] = $from + $step * ($first + $i);
            }

            return $values;
        }
        $span = ($to - $from) / (1.0 - exp(-$k));
        $end = $from + $span;
        $rest = $span * exp(-$k * $first / $frames);
        $ratio = exp(-$k / $frames);
        for ($i = 0; $i < $count; ++$i) {
            $values[] = $end - $rest;
            $rest *= $ratio;
        }

        return $values;
    }
}
