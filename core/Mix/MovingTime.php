<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\Ticks;

/** Where a stretch lies whose tempo is not that of the beat all along, and how time goes in it. */
final readonly class MovingTime
{
    /**
     * @param float    $tick        at which it begins, from the start of what is played
     * @param int      $frame       at which it begins, likewise
     * @param float    $ticksAFrame on the average
     * @param int|null $loopTicks   length of what goes round; null for what is played once
     */
    public function __construct(public float $tick, public int $frame, public float $ticksAFrame, public ?int $loopTicks)
    {
    }

    /** On the average, at a rate of so many frames a second. */
    public function tempo(float $sampleRate): Tempo
    {
        return Tempo::passing(60.0 / Ticks::PER_QUARTER * $sampleRate * $this->ticksAFrame);
    }

    /** What comes after it, at the same tempo. */
    public function following(int $frames): self
    {
        return new self($this->tick + $frames * $this->ticksAFrame, $this->frame + $frames, $this->ticksAFrame, $this->loopTicks);
    }

    /** The same, so many frames later: in another round. */
    public function later(int $frames): self
    {
        return new self($this->tick, $this->frame + $frames, $this->ticksAFrame, $this->loopTicks);
    }

    public function print(): string
    {
        return $this->tick.' '.$this->frame.' '.$this->ticksAFrame.' '.$this->loopTicks;
    }
}
