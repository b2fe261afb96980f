<?php

namespace Pestle\Core\Signal;

/** Seeded white noise and chance: the same seed gives the same numbers everywhere. */
final class Noise
{
    private int $state;

    public function __construct(int $seed)
    {
        $this->state = ($seed * 2654435761 + 12345) & 0xFFFFFFFF;
        for ($i = 0; $i < 4; ++$i) {
            $this->next();
        }
    }

    /** Uniform in [-1, 1). Linear congruential, constants of Numerical Recipes, top bits used. */
    public function next(): float
    {
        $this->state = ($this->state * 1664525 + 1013904223) & 0xFFFFFFFF;

        return ($this->state >> 8) / 8388608.0 - 1.0;
    }

    /** @return list<float> uniform in [-1, 1) */
    public function block(int $count): array
    {
        $state = $this->state;
        $out = [];
        for ($i = 0; $i < $count; ++$i) {
            $state = ($state * 1664525 + 1013904223) & 0xFFFFFFFF;
            $out[] = ($state >> 8) / 8388608.0 - 1.0;
        }
        $this->state = $state;

        return $out;
    }
}
