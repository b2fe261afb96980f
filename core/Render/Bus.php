<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Compressor;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Signal\Decibels;

/** A group, or the master before its limiter: a sum, compressed and then set in level, or the other way round. */
final readonly class Bus
{
    public string $signature;
    private ?Compressor $compressor;
    private float $before;
    private float $after;

    public function __construct(CompressorSettings $compressor, float $gainDb, FaderPlace $fader, float $sampleRate)
    {
        $this->compressor = $compressor->on ? new Compressor($compressor, $sampleRate) : null;
        $gain = Decibels::toGain($gainDb);
        [$this->before, $this->after] = FaderPlace::Before === $fader ? [$gain, 1.0] : [1.0, $gain];
        $this->signature = serialize([null === $this->compressor ? null : $compressor, $this->before, $this->after]);
    }

    /** @return list<float> */
    public function rest(): array
    {
        return $this->compressor?->rest() ?? [];
    }

    /** @param list<float> $state */
    public function process(StereoBlock $sum, int $frames, array $state): Rendered
    {
        $sum = self::level($sum, $this->before);
        if (null === $this->compressor) {
            return Rendered::of(self::level($sum, $this->after), $frames, $state);
        }
        [$sound, $next, $curve] = $this->compressor->process($sum, $state);

        return Rendered::of(self::level($sound, $this->after), $frames, $next, $curve);
    }

    /** What this bus makes of a part of its sum: its level, and the gain it gave to the whole. */
    public function part(StereoBlock $sum, ?GainCurve $curve): StereoBlock
    {
        return self::level(Gain::curve(self::level($sum, $this->before), $curve?->expand($sum->frames())), $this->after);
    }

    private static function level(StereoBlock $sum, float $gain): StereoBlock
    {
        return Gain::sides($sum, $gain, $gain);
    }
}
