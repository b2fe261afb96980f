<?php

namespace Pestle\App\Page;

/** What is felt apart from its pattern: the lane of a pad, or a group of hits or notes. */
final readonly class FeltLane
{
    public function __construct(public string $id, public string $name, public bool $isGroup = false)
    {
    }
}
