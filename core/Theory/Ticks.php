<?php

namespace Pestle\Core\Theory;

/** Musical time: 960 ticks to the quarter note, four quarters to the bar. */
final class Ticks
{
    public const PER_QUARTER = 960;
    public const PER_STEP = 240;
    public const PER_BAR = 3840;

    /** The nearest multiple of $gridTicks. */
    public static function snap(int $tick, int $gridTicks = self::PER_STEP): int
    {
        return intdiv($tick + intdiv($gridTicks, 2), $gridTicks) * $gridTicks;
    }

    /** Drawn to the nearest sixteenth, as far as a strength in percent says. */
    public static function drawn(int $tick, int $strength): int
    {
        return (int) round($tick + $strength / 100 * (self::snap($tick) - $tick));
    }
}
