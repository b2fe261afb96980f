<?php

namespace Pestle\Core\Apart;

/** Adds pieces of a signal that lie over one another, each a hop behind the one before, and gives what is complete. */
final class Overlap
{
    /** @var list<float> what the pieces so far have come to, from where the next one begins */
    private array $sum;
    /** @var list<float> */
    private array $done = [];

    public function __construct(int $size, private readonly int $hop)
    {
        $this->sum = array_fill(0, $size, 0.0);
    }

    /** @param list<float> $piece */
    public function add(array $piece): void
    {
        foreach ($this->sum as $i => $x) {
            $piece[$i] += $x;
        }
        $this->sum = \array_slice($piece, $this->hop);
        array_push($this->done, ...\array_slice($piece, 0, $this->hop));
    }

    /** @return list<float> a hop for each piece that was added */
    public function done(): array
    {
        return $this->done;
    }
}
