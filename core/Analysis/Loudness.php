<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmFile;

/**
 * Integrated loudness (LUFS) and true peak (dBTP) of a recording. A file of one channel counts as one, as the standard has it;
 * what is shorter than a block is one block of its own length.
 */
final readonly class Loudness
{
    private const FRAMES = 44_100;

    private function __construct(public float $integratedLufs, public float $truePeakDb, public float $samplePeakDb)
    {
    }

    public static function of(AudioSource $source): self
    {
        $meter = new LoudnessMeter($source->sampleRate(), $source instanceof PcmFile && 1 === $source->channels ? 1 : 2);
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += self::FRAMES) {
            $meter->add($source->read($at, min(self::FRAMES, $frames - $at)));
        }

        return new self($meter->integratedLufs(), $meter->truePeakDb(), $meter->samplePeakDb());
    }
}
