<?php

namespace Pestle\Core\Kit;

/** What an LFO moves. */
enum LfoTarget: string
{
    case None = 'none';
    case Level = 'level';
    case Pan = 'pan';
    case Pitch = 'pitch';
    case Cutoff = 'cut-off';

    public function unit(): string
    {
        return self::Pitch === $this || self::Cutoff === $this ? 'cents' : '%';
    }

    /** Largest depth that means something. */
    public function most(): float
    {
        return match ($this) {
            self::Pitch => 2400.0,
            self::Cutoff => 4800.0,
            default => 100.0,
        };
    }
}
