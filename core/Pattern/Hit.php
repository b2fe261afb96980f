<?php

namespace Pestle\Core\Pattern;

/**
 * A strike of a pad: written tick (before swing), velocity 1 to 127, length in ticks
 * (heard by held pads) and chance in percent. A pad has at most one hit a tick.
 * What replays a recording lies finer than ticks: so many 256ths behind its tick, and so many longer.
 * It may be struck several times over its length, evenly. A hit of a ladder sets one thing of its pad differently, such as "tuneCents=300"; hits of other grades are hits of their own.
 * It may belong to a group of hits that are felt apart from their lanes. Its dice are thrown by its tick, or by the one it had
 * before it was written elsewhere.
 */
final readonly class Hit
{
    /** Parts of a tick; at 30 BPM each is a third of a frame. */
    public const FINE = 256;
    public const MOST_STRIKES = 16;

    public function __construct(
        public int $tick,
        public string $pad,
        public int $velocity,
        public int $length = 240,
        public int $chance = 100,
        public int $fine = 0,
        public int $fineLength = 0,
        public string $grade = '',
        public int $strikes = 1,
        public string $group = '',
        public ?int $thrown = null,
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

    /** As it is, with the dice it throws at a tick. */
    public function thrownAt(int $tick): self
    {
        return new self($this->tick, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, $this->strikes, $this->group, $tick);
    }

    /** What its dice are thrown by. */
    public function dice(): string
    {
        return null === $this->thrown ? $this->key() : (new self($this->thrown, $this->pad, $this->velocity, grade: $this->grade))->key();
    }

    /** Its tick and pad, whatever its grade. */
    public function place(): string
    {
        return $this->tick.' '.$this->pad;
    }

    /** On another tick; there it lies on the tick itself. */
    public function at(int $tick): self
    {
        return new self($tick, $this->pad, $this->velocity, $this->length, $this->chance, 0, $this->fineLength, $this->grade, $this->strikes, $this->group);
    }

    /** As it is, by so many ticks later. */
    public function later(int $ticks): self
    {
        return new self($this->tick + $ticks, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, $this->strikes, $this->group, $this->thrown);
    }

    public function on(string $pad): self
    {
        return new self($this->tick, $pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, $this->strikes, $this->group);
    }

    /**
     * As it is, elsewhere and otherwise strong.
     *
     * @param int   $place  in 256ths of a tick; may lie before 0
     * @param float $length in ticks
     */
    public function placed(int $place, int $velocity, float $length): self
    {
        $long = max(self::FINE, (int) round($length * self::FINE));
        $tick = (int) floor($place / self::FINE);

        return new self($tick, $this->pad, $velocity, intdiv($long, self::FINE), $this->chance, $place - $tick * self::FINE, $long % self::FINE, $this->grade, $this->strikes, $this->group, $this->thrown);
    }

    /** @param string $group empty for with its lane */
    public function feltWith(string $group): self
    {
        return new self($this->tick, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, $this->strikes, $group, $this->thrown);
    }

    /** @return list<self> its strikes, where it is struck several times over its length; else itself */
    public function struck(): array
    {
        if (1 === $this->strikes) {
            return [$this];
        }
        $length = $this->lengthTicks() / $this->strikes;
        $from = $this->tick * self::FINE + $this->fine;
        $once = new self($this->tick, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, 1, $this->group, $this->thrown);

        return array_map(fn (int $i): self => $once->placed($from + (int) round($i * $length * self::FINE), $this->velocity, $length), range(0, $this->strikes - 1));
    }

    public function lengthTicks(): float
    {
        return $this->length + $this->fineLength / self::FINE;
    }

    /** @return list<int|string|null> the fine parts, the grade, the strikes, the group and the tick of its dice only where there are some */
    public function toArray(): array
    {
        $row = [$this->tick, $this->pad, $this->velocity, $this->length, $this->chance, $this->fine, $this->fineLength, $this->grade, $this->strikes, $this->group, $this->thrown];

        return match (true) {
            null !== $this->thrown => $row,
            '' !== $this->group => \array_slice($row, 0, 10),
            $this->strikes > 1 => \array_slice($row, 0, 9),
            '' !== $this->grade => \array_slice($row, 0, 8),
            0 !== $this->fine || 0 !== $this->fineLength => \array_slice($row, 0, 7),
            default => \array_slice($row, 0, 5),
        };
    }
}
