<?php

namespace Pestle\App\Gather;

/** Work: the hits of a long sound are wanted, for a sensitivity (0 to 1) and a least distance in seconds. */
final readonly class FindHits
{
    public function __construct(public string $sound, public float $sensitivity, public float $shortest)
    {
    }

    /** Names the file that keeps what was found. */
    public function name(): string
    {
        return hash('sha256', $this->sound).\sprintf('-%.3f-%.3f.hits', $this->sensitivity, $this->shortest);
    }
}
