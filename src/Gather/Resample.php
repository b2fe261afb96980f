<?php

namespace Pestle\App\Gather;

/** Work: the output of a beat, a pattern or a channel is to become a sample. */
final readonly class Resample
{
    /** @param string|null $pattern null for the whole beat */
    public function __construct(public string $upload, public int $beat, public int $head, public ?string $pattern, public ?string $channel, public bool $wet)
    {
    }
}
