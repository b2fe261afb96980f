<?php

namespace Pestle\Core\Render;

use Pestle\Core\Synth\MadeNote;

/**
 * One strike of a pad, in frames. It reads the pad's sound from $from on, at full level at $start;
 * where the sound begins inside a recording it fades in over the FADE frames before.
 * It fades out over the last $fadeOut of its $length frames, and what it is shaped by and let go with comes before that.
 */
final readonly class Voice
{
    /** Fade at cuts inside a recording: 2.2 ms at 44.1 kHz, straight, so that neighbouring slices add up to the original. */
    public const FADE = 96;
    /** Fade when a voice is silenced by another: 6 ms. */
    public const CHOKE_FADE = 256;

    public string $signature;

    public function __construct(
        public string $sample,
        public int $tuneCents,
        public int $from,
        public int $start,
        public int $length,
        public int $fadeIn,
        public int $fadeOut,
        public float $gainLeft,
        public float $gainRight,
        public ?Glide $glide = null,
        public ?Round $round = null,
        public ?Shaping $shaping = null,
        public ?Release $release = null,
        public ?MadeNote $made = null,
    ) {
        $this->signature = implode(' ', [$sample, $tuneCents, $from, $length, $fadeIn, $fadeOut, bin2hex(pack('E2', $gainLeft, $gainRight)), ...null === $glide ? [] : ['glide', $glide->signature()], ...null === $round ? [] : ['round', $round->signature()], ...null === $shaping ? [] : ['shaping', $shaping->signature], ...null === $release ? [] : ['release', $release->signature()]]);
    }

    /** First frame that sounds. */
    public function first(): int
    {
        return $this->start - $this->fadeIn;
    }

    /** First frame after the last that sounds. */
    public function end(): int
    {
        return $this->start + $this->length;
    }
}
