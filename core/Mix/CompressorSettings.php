<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Threshold (dBFS), ratio to one and over how many dB it sets in, attack and release (ms), make-up gain (dB), and what steers it. */
final readonly class CompressorSettings implements InsertSettings
{
    use SteeredInsert;

    public const KIND = InsertKind::Compressor;

    /** @param string|null $key line whose sound decides the gain; null for its own */
    public function __construct(
        public string $id,
        public bool $on = false,
        public float $thresholdDb = -18.0,
        public float $ratio = 2.5,
        public float $attackMs = 10.0,
        public float $releaseMs = 120.0,
        public float $makeupDb = 0.0,
        public ?string $key = null,
        public float $kneeDb = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Compressor'),
            'thresholdDb' => Parameter::number('Threshold', 'dB', -60.0, 0.0, -18.0, 0.5, moves: true),
            'ratio' => Parameter::number('Ratio', ': 1', 1.0, 20.0, 2.5, 0.1, moves: true),
            'kneeDb' => Parameter::number('Knee', 'dB', 0.0, 24.0, 0.0, 0.5),
            'attackMs' => Parameter::number('Attack', 'ms', 0.1, 200.0, 10.0, 0.1),
            'releaseMs' => Parameter::number('Release', 'ms', 5.0, 2000.0, 120.0, 1.0, 0),
            'makeupDb' => Parameter::number('Make-up', 'dB', 0.0, 24.0, 0.0, 0.5, moves: true),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Compressor($this, $timing->sampleRate);
    }
}
