<?php

namespace Pestle\Core\Mix;

/** The last stage: gain (dB), gentle compression and a limiter whose ceiling is a true peak (dBTP). */
final readonly class Master
{
    public const MIN_GAIN_DB = -24.0;
    public const MAX_GAIN_DB = 24.0;
    public const MIN_CEILING_DB = -12.0;
    public const MAX_CEILING_DB = 0.0;

    public function __construct(
        public float $gainDb = 0.0,
        public float $ceilingDb = -1.0,
        public CompressorSettings $compressor = new CompressorSettings(thresholdDb: -12.0, ratio: 1.5, attackMs: 30.0, releaseMs: 200.0),
        public FaderPlace $fader = FaderPlace::After,
    ) {
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{gainDb: float, ceilingDb: float, compressor: CompressorSettings, fader: FaderPlace} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [...get_object_vars($this), 'compressor' => $this->compressor->toArray(), 'fader' => $this->fader->value];

        return $plain;
    }
}
