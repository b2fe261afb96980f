<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Opens above a level (dBFS), closes so far below it (dB) after a while (ms), down by so much (dB); attack and release (ms); what steers it. */
final readonly class GateSettings implements InsertSettings
{
    use SteeredInsert;

    public const KIND = InsertKind::Gate;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $thresholdDb = -40.0,
        public float $hysteresisDb = 6.0,
        public float $attackMs = 1.0,
        public float $holdMs = 40.0,
        public float $releaseMs = 120.0,
        public float $rangeDb = 60.0,
        public ?string $key = null,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Gate', true),
            'thresholdDb' => Parameter::number('Opens above', 'dB', -80.0, 0.0, -40.0, 0.5)->moving(),
            'hysteresisDb' => Parameter::number('Closes below that by', 'dB', 0.0, 24.0, 6.0, 0.5)->moving(),
            'attackMs' => Parameter::number('Attack', 'ms', 0.0, 100.0, 1.0, 0.1)->bent(2.0)->moving(),
            'holdMs' => Parameter::number('Hold', 'ms', 0.0, 2000.0, 40.0, 1.0, 0)->bent(2.0)->settled('it counts from when it opened.'),
            'releaseMs' => Parameter::number('Release', 'ms', 5.0, 3000.0, 120.0, 1.0, 0)->bent(2.0)->moving(),
            'rangeDb' => Parameter::number('Down by', 'dB', 0.0, 90.0, 60.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Gate(false, $this->thresholdDb, $this->hysteresisDb, $this->attackMs, $this->holdMs, $this->releaseMs, $this->rangeDb, $timing->sampleRate);
    }
}
