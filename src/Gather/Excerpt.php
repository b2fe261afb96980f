<?php

namespace Pestle\App\Gather;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** The first seconds of a recording. */
final readonly class Excerpt implements AudioSource
{
    public function __construct(private AudioSource $source, private float $seconds)
    {
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return (int) min($this->source->frames(), $this->seconds * $this->source->sampleRate());
    }

    public function read(int $start, int $count): StereoBlock
    {
        return $this->source->read($start, $count);
    }
}
