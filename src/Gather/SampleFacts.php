<?php

namespace Pestle\App\Gather;

use Pestle\App\Entity\Sample;

/** What pages that put a sample somewhere want to know of it. */
final class SampleFacts
{
    /** @return array<string, string|int|float|bool|null> */
    public static function of(Sample $sample): array
    {
        return [
            'hash' => $sample->hash,
            'name' => $sample->name,
            'frames' => $sample->frames,
            'rate' => $sample->rate,
            'heard' => $sample->isHeard(),
            'loop' => $sample->isLoop(),
            'bpm' => $sample->bpm(),
            'bars' => $sample->bars(),
            'key' => $sample->key(),
            'role' => $sample->role()->value,
            'peakDb' => $sample->peakDb,
        ];
    }
}
