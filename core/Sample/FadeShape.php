<?php

namespace Pestle\Core\Sample;

/** How a fade moves; `gain` gives it from silence at 0 to full at 1. */
enum FadeShape: string
{
    case Straight = 'straight';
    case SlowStart = 'slow';
    case FastStart = 'fast';
    case S = 's';

    public function gain(float $place): float
    {
        return match ($this) {
            self::Straight => $place,
            self::SlowStart => $place * $place,
            self::FastStart => 1.0 - (1.0 - $place) * (1.0 - $place),
            self::S => $place * $place * (3.0 - 2.0 * $place),
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Straight => 'straight',
            self::SlowStart => 'slow start',
            self::FastStart => 'fast start',
            self::S => 'S-shaped',
        };
    }
}
