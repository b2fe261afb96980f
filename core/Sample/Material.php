<?php

namespace Pestle\Core\Sample;

/** What a sound is made of, as far as stretching it goes. */
enum Material: string
{
    case Hits = 'hits';
    case Tones = 'tones';

    /** Share of the highs in all that starts, from which on it is hits: between drum loops and chord loops. */
    private const HITS_FROM = 0.19;

    public static function byHighShare(float $share): self
    {
        return $share > self::HITS_FROM ? self::Hits : self::Tones;
    }
}
