<?php

namespace Pestle\Core\Signal;

/** The largest absolute value. */
final class Peak
{
    /** @param array<int, float> $signal 0 when it is empty */
    public static function of(array $signal): float
    {
        $high = $low = 0.0;
        foreach ($signal as $x) {
            if ($x > $high) {
                $high = $x;
            } elseif ($x < $low) {
                $low = $x;
            }
        }

        return $high > -$low ? $high : -$low;
    }
}
