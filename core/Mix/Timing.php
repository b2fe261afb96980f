<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;

/** What inserts that move or echo in time go by. */
final readonly class Timing
{
    /**
     * @param int|null        $loopFrames length of what goes round; null for what is played once
     * @param MovingTime|null $moving     where the tempo moves: then $tempo is that of now
     */
    public function __construct(public float $sampleRate, public Tempo $tempo, public ?int $loopFrames = null, public SoundRules $rules = SoundRules::NEWEST, public ?MovingTime $moving = null)
    {
    }

    /** The same where the tempo moves. */
    public function at(MovingTime $time): self
    {
        return new self($this->sampleRate, $time->tempo($this->sampleRate), $this->loopFrames, $this->rules, $time);
    }

    /** Turns a frame of something that goes round so many times a second: in a loop a whole number of them, so that it meets its start. */
    public function turns(float $hz): float
    {
        $turns = $hz / $this->sampleRate;
        if (null === $this->loopFrames || $this->loopFrames < 1) {
            return $turns;
        }

        return max(1.0, round($turns * $this->loopFrames)) / $this->loopFrames;
    }
}
