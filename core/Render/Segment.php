<?php

namespace Pestle\Core\Render;

/** A piece of time that is rendered at once, and the voices that sound in it. */
final class Segment
{
    public const FRAMES = 4096;

    /**
     * For every pad its voices here, each with the frame of the segment at which it would start (may be negative).
     *
     * @var array<string, list<array{Voice, int}>>
     */
    public array $voices = [];

    public function __construct(public readonly int $index, public readonly int $start, public readonly int $frames)
    {
    }

    /** The same in a later pass of a loop. */
    public function later(int $segments, int $frames): self
    {
        $later = new self($this->index + $segments, $this->start + $frames, $this->frames);
        $later->voices = $this->voices;

        return $later;
    }

    /** The same print means the same voices at the same places. */
    public function print(): string
    {
        $parts = [(string) $this->frames];
        foreach ($this->voices as $pad => $voices) {
            foreach ($voices as [$voice, $start]) {
                $parts[] = $pad.' '.$voice->signature.' '.$start;
            }
        }

        return hash('xxh128', implode("\n", $parts), true);
    }
}
