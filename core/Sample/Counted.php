<?php

namespace Pestle\Core\Sample;

/** A loop as a beat counts it: how long it is, and at what tempo and in how many bars that is. */
final readonly class Counted
{
    /**
     * @param float|null $bpm   quarters of the beat a minute; null where no tempo is known
     * @param int|null   $bars  when it is a whole number of bars long
     * @param float      $aBar  quarters of the beat in a bar of it
     * @param float      $aLine quarters of the beat from a line of its grid to the next
     */
    public function __construct(public ?float $bpm, public int $frames, public int $rate, public ?int $bars = null, public float $aBar = 4.0, public float $aLine = 1.0)
    {
    }

    public function seconds(): float
    {
        return $this->frames / $this->rate;
    }
}
