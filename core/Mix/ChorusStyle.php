<?php

namespace Pestle\Core\Mix;

enum ChorusStyle: string
{
    case Chorus = 'chorus';
    case Flanger = 'flanger';
    case Vibrato = 'vibrato';

    /** Shortest way of the doubled sound, in ms. */
    public function leastMs(): float
    {
        return match ($this) {
            self::Chorus => 9.0,
            self::Flanger => 0.4,
            self::Vibrato => 0.5,
        };
    }

    /** Longest, at full depth, beyond that. */
    public function rangeMs(): float
    {
        return match ($this) {
            self::Chorus => 9.0,
            self::Flanger => 5.0,
            self::Vibrato => 4.0,
        };
    }
}
