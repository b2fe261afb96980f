<?php

namespace Pestle\Core\Song;

/** What a movement belongs to and is counted from: the song from its start, each pass of a section, or each round of a pattern. */
enum Scope: string
{
    case Song = 'song';
    case Section = 'section';
    case Pattern = 'pattern';

    /** The innermost that says something is heard. */
    public function depth(): int
    {
        return match ($this) {
            self::Song => 0,
            self::Section => 1,
            self::Pattern => 2,
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Song => 'Song',
            self::Section => 'Section',
            self::Pattern => 'Pattern',
        };
    }
}
