<?php

namespace Pestle\Core\Sample;

/** A line of a beat grid that is held in its place. Beat 0 begins the first bar; seconds may lie before the start. */
final readonly class TempoMark
{
    /** @param bool $gradual whether the tempo glides through it; else it changes at once */
    public function __construct(public int $beat, public float $seconds, public bool $gradual = false)
    {
    }
}
