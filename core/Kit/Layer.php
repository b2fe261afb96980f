<?php

namespace Pestle\Core\Kit;

/** One more sound on a pad: a stretch of a sample, in frames, end exclusive. */
final readonly class Layer
{
    public function __construct(public string $name, public string $sample, public int $start, public int $end)
    {
        if ($start < 0 || $end <= $start) {
            throw new \InvalidArgumentException(\sprintf('Layer %s: the end of its sound must lie after its start.', $name));
        }
    }
}
