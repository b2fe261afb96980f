<?php

namespace Pestle\Core\Kit;

/** Which of a pad's sounds answer a strike, among those whose range of strengths it falls in. */
enum Answer: string
{
    case All = 'all';
    case Strength = 'strength';
    case Turn = 'turn';
    case Chance = 'chance';
    /** By chance, but never the one before again. */
    case Fresh = 'fresh';

    public function label(): string
    {
        return match ($this) {
            self::All => 'All together',
            self::Strength => 'By strength',
            self::Turn => 'In turn',
            self::Chance => 'By chance',
            self::Fresh => 'By chance, never twice',
        };
    }

    /** Whether one of those that could answer is chosen, strike by strike. */
    public function chooses(): bool
    {
        return self::All !== $this && self::Strength !== $this;
    }
}
