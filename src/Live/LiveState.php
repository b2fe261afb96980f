<?php

namespace Pestle\App\Live;

use Pestle\Core\Song\LiveSet;

/** A performance as it is kept: how often it was changed, the tick that was heard last, what was chosen. */
final readonly class LiveState
{
    public function __construct(public int $version, public int $now, public LiveSet $set)
    {
    }

    public function at(int $now): self
    {
        return new self($this->version, max($this->now, $now), $this->set);
    }

    public function with(LiveSet $set): self
    {
        return new self($this->version + 1, $this->now, $set);
    }
}
