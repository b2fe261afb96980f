<?php

namespace Pestle\App\Gather;

/** the output of a song, a section, a pattern or a channel is to become a sample. */
final readonly class Resample extends OwnSample
{
    /** @param string|null $what id of a section or a pattern, null for the song */
    public function __construct(string $upload, public int $beat, public int $head, public ?string $what, public ?string $channel, public bool $wet)
    {
        parent::__construct($upload);
    }
}
