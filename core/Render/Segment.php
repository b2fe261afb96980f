<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\MovingTime;
use Pestle\Core\Theory\Tempo;

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

    /**
     * @param Place|null      $place where it begins, as what moves counts it; null where nothing moves
     * @param MovingTime|null $time  where the tempo of what is played moves
     */
    public function __construct(public readonly int $index, public readonly int $start, public readonly int $frames, public readonly ?Place $place = null, public readonly ?MovingTime $time = null)
    {
    }

    /** An empty one that comes after it. */
    public function following(Tempo $tempo): self
    {
        return new self($this->index + 1, $this->start + $this->frames, self::FRAMES, $this->place?->later(null === $this->time ? $tempo->exactTicks($this->frames / Beat::SAMPLE_RATE) : $this->frames * $this->time->ticksAFrame), $this->time?->following($this->frames));
    }

    /** The same in a later pass of a loop. */
    public function later(int $segments, int $frames): self
    {
        $later = new self($this->index + $segments, $this->start + $frames, $this->frames, $this->place, $this->time?->later($frames));
        $later->voices = $this->voices;

        return $later;
    }

    /**
     * The same print means the same voices at the same places, and where movements are the same, the same settings.
     *
     * @param bool $moves whether something moves in the beat
     */
    public function print(bool $moves): string
    {
        $parts = [$this->frames.($moves ? ' '.$this->place?->print().' '.$this->time?->print() : '')];
        foreach ($this->voices as $pad => $voices) {
            foreach ($voices as [$voice, $start]) {
                $parts[] = $pad.' '.$voice->signature.' '.$start;
            }
        }

        return hash('xxh128', implode("\n", $parts), true);
    }
}
