<?php

namespace Pestle\Core\Kit;

/** What a source of a made sound is. */
enum WaveKind: string
{
    case Sine = 'sine';
    case Triangle = 'triangle';
    case Saw = 'saw';
    case Pulse = 'pulse';
    case Partials = 'partials';
    case Noise = 'noise';
    case String = 'string';
    case Bar = 'bar';
    case Plate = 'plate';
    case Skin = 'skin';
    case Tube = 'tube';

    public function label(): string
    {
        return match ($this) {
            self::String => 'plucked string',
            self::Partials => 'drawn partials',
            default => $this->value,
        };
    }

    /** Whether it is struck once and rings, by modes of its own. */
    public function isStruck(): bool
    {
        return \in_array($this, [self::String, self::Bar, self::Plate, self::Skin, self::Tube], true);
    }

    /** Whether it goes round and round, with a pitch. */
    public function isPeriodic(): bool
    {
        return self::Noise !== $this && !$this->isStruck();
    }
}
