<?php

namespace Pestle\Core\Mix;

/** Channels that are set in level and compressed together. */
final readonly class Group
{
    public const DRUMS = 'drums';

    public function __construct(
        public string $id,
        public string $name,
        public float $gainDb = 0.0,
        public bool $mute = false,
        public CompressorSettings $compressor = new CompressorSettings(thresholdDb: -14.0, ratio: 2.0, attackMs: 20.0),
        public FaderPlace $fader = FaderPlace::After,
    ) {
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{id: string, name: string, gainDb: float, mute: bool, compressor: CompressorSettings, fader: FaderPlace} $all */
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
