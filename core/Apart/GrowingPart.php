<?php

namespace Pestle\Core\Apart;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** A part while it is made: what is not there yet is silence. */
final readonly class GrowingPart implements AudioSource
{
    public function __construct(private ApartFiles $files, private RecordingPart $part, private int $sampleRate)
    {
    }

    public function sampleRate(): int
    {
        return $this->sampleRate;
    }

    public function frames(): int
    {
        return $this->files->frames;
    }

    public function read(int $start, int $count): StereoBlock
    {
        return $this->files->read($this->part, $start, $count);
    }
}
