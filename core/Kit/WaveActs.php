<?php

namespace Pestle\Core\Kit;

/** What a source does: it is heard, or does something to the one that is heard before it in the list. */
enum WaveActs: string
{
    case Sounds = 'sounds';
    case Bends = 'bends';
    case Multiplies = 'multiplies';
    case Restarts = 'restarts';

    public function label(): string
    {
        return match ($this) {
            self::Sounds => 'is heard',
            self::Bends => 'bends the one above',
            self::Multiplies => 'multiplies the one above',
            self::Restarts => 'restarts the one above',
        };
    }
}
