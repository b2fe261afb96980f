<?php

namespace Pestle\Core\Mix;

/** Threshold (dBFS), ratio to one, attack and release (ms), make-up gain (dB). */
final readonly class CompressorSettings
{
    /** Lowest and highest value of every field. */
    public const RANGES = [
        'thresholdDb' => [-60.0, 0.0],
        'ratio' => [1.0, 20.0],
        'attackMs' => [0.1, 200.0],
        'releaseMs' => [5.0, 2000.0],
        'makeupDb' => [0.0, 24.0],
    ];

    public function __construct(
        public bool $on = false,
        public float $thresholdDb = -18.0,
        public float $ratio = 2.5,
        public float $attackMs = 10.0,
        public float $releaseMs = 120.0,
        public float $makeupDb = 0.0,
    ) {
    }

    /** @return array<string, bool|float> */
    public function toArray(): array
    {
        /** @var array<string, bool|float> $plain */
        $plain = get_object_vars($this);

        return $plain;
    }
}
