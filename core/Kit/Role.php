<?php

namespace Pestle\Core\Kit;

/** What a sound does in a beat; each has a glyph and a colour on the pages. */
enum Role: string
{
    case Kick = 'kick';
    case Snare = 'snare';
    case Clap = 'clap';
    case Hat = 'hat';
    case OpenHat = 'open-hat';
    case Tom = 'tom';
    case Cymbal = 'cymbal';
    case Percussion = 'percussion';
    case Bass = 'bass';
    case Tonal = 'tonal';
    case Voice = 'voice';
    case Effect = 'effect';

    public function label(): string
    {
        return ucfirst(str_replace('-', ' ', $this->value));
    }

    /** @return list<self> which take its place in a kit that has none, the nearest first */
    public function instead(): array
    {
        return match ($this) {
            self::Clap => [self::Snare],
            self::Snare => [self::Clap],
            self::OpenHat => [self::Hat, self::Cymbal],
            self::Cymbal => [self::OpenHat],
            self::Tom => [self::Percussion, self::Kick],
            self::Percussion => [self::Clap, self::Hat, self::Tom],
            self::Hat => [self::Percussion, self::OpenHat],
            default => [],
        };
    }

    public function isDrum(): bool
    {
        return \in_array($this, [self::Kick, self::Snare, self::Clap, self::Hat, self::OpenHat, self::Tom, self::Cymbal, self::Percussion], true);
    }
}
