<?php

namespace Pestle\Core\Audio;

/** Sound held in memory. */
final readonly class MemorySource implements AudioSource
{
    public function __construct(private StereoBlock $block, private int $sampleRate)
    {
    }

    public function sampleRate(): int
    {
        return $this->sampleRate;
    }

    public function frames(): int
    {
        return $this->block->frames();
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames(), $this->block->slice(...));
    }
}
