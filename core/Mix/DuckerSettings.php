<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Steps back by so much (dB) while another sound is louder than a level (dBFS); how fast, how long after it, how fast back (ms). */
final readonly class DuckerSettings implements InsertSettings
{
    use SteeredInsert;

    public const KIND = InsertKind::Ducker;
    /** Between two strokes of a kick it is not to come back for a moment. */
    private const HYSTERESIS_DB = 6.0;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $depthDb = 6.0,
        public float $thresholdDb = -30.0,
        public float $attackMs = 4.0,
        public float $holdMs = 30.0,
        public float $releaseMs = 140.0,
        public ?string $key = null,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Ducker', true),
            'depthDb' => Parameter::number('Back by', 'dB', 0.0, 60.0, 6.0, 0.5, moves: true),
            'thresholdDb' => Parameter::number('While it is above', 'dB', -60.0, 0.0, -30.0, 0.5),
            'attackMs' => Parameter::number('Attack', 'ms', 0.0, 200.0, 4.0, 0.1)->bent(2.0),
            'holdMs' => Parameter::number('Hold', 'ms', 0.0, 1000.0, 30.0, 1.0, 0)->bent(2.0),
            'releaseMs' => Parameter::number('Release', 'ms', 5.0, 2000.0, 140.0, 1.0, 0)->bent(2.0),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Gate(true, $this->thresholdDb, self::HYSTERESIS_DB, $this->attackMs, $this->holdMs, $this->releaseMs, $this->depthDb, $timing->sampleRate);
    }
}
