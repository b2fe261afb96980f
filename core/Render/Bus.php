<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Compressor;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Signal\Decibels;

/** A group, or the master before its limiter: a sum, compressed and set in level. */
final readonly class Bus
{
    public string $signature;
    private ?Compressor $compressor;
    private float $gain;

    public function __construct(CompressorSettings $compressor, float $gainDb, float $sampleRate)
    {
        $this->compressor = $compressor->on ? new Compressor($compressor, $sampleRate) : null;
        $this->gain = Decibels::toGain($gainDb);
        $this->signature = serialize([null === $this->compressor ? null : $compressor, $this->gain]);
    }

    /** @return list<float> */
    public function rest(): array
    {
        return $this->compressor?->rest() ?? [];
    }

    /** @param list<float> $state */
    public function process(StereoBlock $sum, int $frames, array $state): Rendered
    {
        $sum = $this->level($sum);
        if (null === $this->compressor) {
            return Rendered::of($sum, $frames, $state);
        }
        [$sound, $next, $curve] = $this->compressor->process($sum, $state);

        return Rendered::of($sound, $frames, $next, $curve);
    }

    /** What this bus makes of a part of its sum: the level, then the gain it gave to the whole. */
    public function part(StereoBlock $sum, ?GainCurve $curve): StereoBlock
    {
        return Gain::curve($this->level($sum), $curve?->expand($sum->frames()));
    }

    private function level(StereoBlock $sum): StereoBlock
    {
        return Gain::sides($sum, $this->gain, $this->gain);
    }
}
