<?php

namespace Pestle\App\Gather;

/** what a part plays through one channel, in one coming of a section, is to become a sample. */
final readonly class Fix extends OwnSample
{
    public function __construct(string $upload, public int $beat, public int $head, public string $entry, public string $part, public string $channel)
    {
        parent::__construct($upload);
    }
}
