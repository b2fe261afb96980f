<?php

namespace Pestle\Core\Pattern;

/**
 * A strike of a pad: written tick (before swing), velocity 1 to 127, length in ticks
 * (heard by held pads) and chance in percent. A pad has at most one hit a tick.
 */
final readonly class Hit
{
    public function __construct(
        public int $tick,
        public string $pad,
        public int $velocity,
        public int $length = 240,
        public int $chance = 100,
    ) {
    }

    public function key(): string
    {
        return $this->tick.' '.$this->pad;
    }

    public function at(int $tick): self
    {
        return new self($tick, $this->pad, $this->velocity, $this->length, $this->chance);
    }

    /** @return array{int, string, int, int, int} */
    public function toArray(): array
    {
        return [$this->tick, $this->pad, $this->velocity, $this->length, $this->chance];
    }
}
