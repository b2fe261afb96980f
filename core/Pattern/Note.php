<?php

namespace Pestle\Core\Pattern;

/** A note of an instrument: written tick (before swing), MIDI pitch 0 to 127, velocity 1 to 127, length in ticks and chance in percent. */
final readonly class Note
{
    public const MAX_PITCH = 127;

    public function __construct(public int $tick, public int $pitch, public int $velocity, public int $length = 240, public int $chance = 100)
    {
    }

    /** A pattern has at most one note of a pitch a tick. */
    public function key(): string
    {
        return $this->tick.' '.$this->pitch;
    }

    public function at(int $tick): self
    {
        return new self($tick, $this->pitch, $this->velocity, $this->length, $this->chance);
    }

    public function later(int $ticks): self
    {
        return $this->at($this->tick + $ticks);
    }

    public function lengthTicks(): float
    {
        return (float) $this->length;
    }

    /** @return list<int> */
    public function toArray(): array
    {
        return [$this->tick, $this->pitch, $this->velocity, $this->length, $this->chance];
    }
}
