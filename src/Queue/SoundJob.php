<?php

namespace Pestle\App\Queue;

use Pestle\App\Entity\Sample;

/** A job that works something out of a sample with its edits. */
abstract readonly class SoundJob implements Job
{
    /** @param string $sound hash of the sample and its edits, as the library calls it */
    public function __construct(public string $sound)
    {
    }

    public function about(): array
    {
        return [Sample::class, substr($this->sound, 0, 64)];
    }
}
