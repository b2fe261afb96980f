<?php

namespace Pestle\Core\Song;

/** A named place of the song. */
final readonly class Marker
{
    public const MOST = 200;

    /** @param int $at tick of the song */
    public function __construct(public string $id, public string $name, public int $at)
    {
    }

    public function at(int $tick): self
    {
        return new self($this->id, $this->name, $tick);
    }

    /** @return array<string, string|int> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'name' => $this->name, 'at' => $this->at];
    }
}
