<?php

namespace Pestle\Core\Analysis;

/** A note that was heard in a recording: seconds, MIDI number, strength 1 to 127 and how sure it is, 0 to 1. */
final readonly class HeardNote
{
    public function __construct(public float $start, public float $end, public int $pitch, public int $velocity, public float $confidence)
    {
    }
}
