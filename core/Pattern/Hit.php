<?php

namespace Pestle\Core\Pattern;

/**
 * A strike of a pad: written tick (before swing), velocity 1 to 127, length in ticks
 * (heard by held pads) and chance in percent. A pad has at most one hit a tick.
 * What replays a recording lies finer than ticks: so many 256ths behind its tick, and so many longer.
 * A hit of a ladder sets one thing of its pad differently, such as "tuneCents=300"; hits of other grades are hits of their own.
 */
final readonly class Hit
{
    /** Parts of a tick; at 30 BPM each is a third of a frame. */
    public const FINE = 256;

    public function __construct(
        public int $tick,
        public string $pad,
        public int $velocity,
        public int $length = 240,
        public int $chance = 100,
        public int $fine = 0,
        public int $fineLength = 0,
        public string $grade = '',
    ) {
    }

    /**
     * @param float $tick   place, to be kept to a 256th of a tick
     * @param float $length likewise
     */
    public static function finely(float $tick, string $pad, int $velocity, float $length): self
    {
        $place = (int) round($tick * self::FINE);
        $long = max(self::FINE, (int) round($length * self::FINE));

        return new self(intdiv($place, self::FINE), $pad, $velocity, intdiv($long, self::FINE), 100, $place % self::FINE, $long % self::FINE);
    }

    public function key(): string
    {
        return '' === $this->grade ? $this->place() : $this->place().' '.$this->grade;
    }

    /** Its tick and pad, whatever its grade. */
    public function place(): string
    {
        return $this->tick.' '.$this->pad;
    }

    /** On another tick; there it lies on the tick itself. */
    public function at(int $tick): self
    {
        return new self($tick, $this->pad, $this->velocity, $this->length, $this->chance, 0, $this->fineLength, $this->grade);
    }

    /** As it is, by so many ticks later. */
    public function later(int $ticks): self
    {
        return new self($this->tick + $ticks, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade);
    }

    public function on(string $pad): self
    {
        return new self($this->tick, $pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade);
    }

    public function lengthTicks(): float
    {
        return $this->length + $this->fineLength / self::FINE;
    }

    /** @return list<int|string> the fine parts and the grade only where there are some */
    public function toArray(): array
    {
        $fine = 0 === $this->fine && 0 === $this->fineLength && '' === $this->grade ? [] : [$this->fine, $this->fineLength];

        return [$this->tick, $this->pad, $this->velocity, $this->length, $this->chance, ...$fine, ...'' === $this->grade ? [] : [$this->grade]];
    }
}
