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
}
