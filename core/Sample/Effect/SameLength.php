<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;

/** An effect that keeps its source's rate and length. */
abstract readonly class SameLength implements AudioSource
{
    public function __construct(protected AudioSource $source)
    {
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return $this->source->frames();
    }
}
