<?php

namespace Pestle\App\Gather;

/** Work: what a part plays through one channel, in one coming of a section, is to become a sample. */
final readonly class Fix
{
    public function __construct(public string $upload, public int $beat, public int $head, public string $entry, public string $part, public string $channel)
    {
    }
}
