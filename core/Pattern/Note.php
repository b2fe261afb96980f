<?php

namespace Pestle\Core\Pattern;

/**
 * A note of an instrument: written tick (before its pattern's feel), MIDI pitch 0 to 127, velocity 1 to 127, length in
 * ticks, chance in percent, how many 256ths of a tick it lies behind its tick and is longer, and the group of notes it is
 * felt with, where it is not felt with all of its pattern. Its dice are thrown by its tick, or by the one it had before it was
 * written elsewhere.
 */
final readonly class Note
{
    public const MAX_PITCH = 127;

    public function __construct(public int $tick, public int $pitch, public int $velocity, public int $length = 240, public int $chance = 100, public int $fine = 0, public int $fineLength = 0, public string $group = '', public ?int $thrown = null)
    {
    }

    /** A pattern has at most one note of a pitch a tick. */
    public function key(): string
    {
        return $this->tick.' '.$this->pitch;
    }

    /** On another tick; there it lies on the tick itself. */
    public function at(int $tick): self
    {
        return new self($tick, $this->pitch, $this->velocity, $this->length, $this->chance, 0, $this->fineLength, $this->group);
    }

    /** As it is, by so many ticks later. */
    public function later(int $ticks): self
    {
        return new self($this->tick + $ticks, $this->pitch, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->group, $this->thrown);
    }

    /**
     * As it is, elsewhere and otherwise strong.
     *
     * @param int   $place  in 256ths of a tick; may lie before 0
     * @param float $length in ticks
     */
    public function placed(int $place, int $velocity, float $length): self
    {
        $long = max(Hit::FINE, (int) round($length * Hit::FINE));
        $tick = (int) floor($place / Hit::FINE);

        return new self($tick, $this->pitch, $velocity, intdiv($long, Hit::FINE), $this->chance, $place - $tick * Hit::FINE, $long % Hit::FINE, $this->group, $this->thrown);
    }

    public function lengthTicks(): float
    {
        return $this->length + $this->fineLength / Hit::FINE;
    }

    /** @param string $group empty for all of the pattern */
    public function feltWith(string $group): self
    {
        return new self($this->tick, $this->pitch, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $group, $this->thrown);
    }

    /** As it is, with the dice it throws at a tick. */
    public function thrownAt(int $tick): self
    {
        return new self($this->tick, $this->pitch, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->group, $tick);
    }

    /** What its dice are thrown by. */
    public function dice(): string
    {
        return ($this->thrown ?? $this->tick).' '.$this->pitch;
    }

    /** @return list<int|string> the fine parts, the group and the tick of its dice only where there are some */
    public function toArray(): array
    {
        $row = [$this->tick, $this->pitch, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->group];

        return match (true) {
            null !== $this->thrown => [...$row, $this->thrown],
            '' !== $this->group => $row,
            0 !== $this->fine || 0 !== $this->fineLength => \array_slice($row, 0, 7),
            default => \array_slice($row, 0, 5),
        };
    }
}
