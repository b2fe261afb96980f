<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;

/** A stretch of a source. */
final readonly class Part implements AudioSource
{
    public function __construct(private AudioSource $source, private int $from, private int $to)
    {
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return max(0, $this->to - $this->from);
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames(), fn (int $at, int $n): StereoBlock => $this->source->read($this->from + $at, $n));
    }
}
