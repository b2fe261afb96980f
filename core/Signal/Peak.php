<?php

namespace Pestle\Core\Signal;

/** The largest absolute value. */
final class Peak
{
    /** @param array<int, float> $signal 0 when it is empty */
    public static function of(array $signal): float
    {
        return [] === $signal ? 0.0 : max(max($signal), -min($signal));
    }
}
