<?php

namespace Pestle\Core\Render;

use Pestle\Core\Synth\MadeNote;

/** What a voice plays before it has a place in time: a stretch of a sound, how it goes round and glides, and what is done to it. */
final readonly class Sounding
{
    /**
     * @param int           $from   first frame of the sound, tuned
     * @param int           $length frames to its end
     * @param MadeNote|null $made   what is played where it is no recording
     */
    public function __construct(
        public string $sample,
        public int $tuneCents,
        public int $from,
        public int $length,
        public ?Round $round,
        public ?Glide $glide,
        public ?Shaping $shaping,
        public ?MadeNote $made = null,
    ) {
    }
}
