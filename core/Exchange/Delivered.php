<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Signal\Decibels;

/** The files of a delivery: the mix first, where it is wanted, then the stems. */
final readonly class Delivered
{
    /**
     * @param list<string>        $paths
     * @param list<string>        $clipped  names of stems that were above full scale and were cut to it
     * @param float               $peak     how high the highest of those would have gone
     * @param string              $level    what was done to its level, in words
     * @param array{float, float} $loudness of the mix: integrated, in LUFS, and true peak, in dBTP
     */
    public function __construct(public array $paths, public int $frames, public array $clipped, public float $peak = 1.0, public string $level = '', public array $loudness = [-70.0, -70.0])
    {
    }

    /** By how many whole dB everything would have to be lower for nothing to be cut. */
    public function overDb(): int
    {
        return (int) ceil(Decibels::fromGain(max(1.0, $this->peak)));
    }
}
