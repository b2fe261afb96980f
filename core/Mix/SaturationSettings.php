<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** How hard the sound is driven into which curve (dB), how bright what comes out may be (Hz), how much of it is heard (%), and its level (dB). */
final readonly class SaturationSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Saturation;
    /** Above this what comes out is left as bright as it is. */
    public const OPEN_HZ = 20000.0;

    public function __construct(
        public string $id,
        public bool $on = true,
        public SaturationCurve $curve = SaturationCurve::Soft,
        public float $driveDb = 9.0,
        public float $toneHz = self::OPEN_HZ,
        public float $mix = 100.0,
        public float $outputDb = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Saturation', true),
            'curve' => Parameter::choice('Curve', SaturationCurve::Soft),
            'driveDb' => Parameter::number('Drive', 'dB', 0.0, 36.0, 9.0, 0.5, moves: true),
            'toneHz' => Parameter::number('Bright up to', 'Hz', 500.0, self::OPEN_HZ, self::OPEN_HZ, 10.0, 0)->bent(3.0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0, true),
            'outputDb' => Parameter::number('Level', 'dB', -24.0, 12.0, 0.0, 0.5, moves: true),
        ];
    }

    public function isLinear(): bool
    {
        return false;
    }

    public function insert(Timing $timing): Insert
    {
        return new Saturation($this, $timing->sampleRate);
    }
}
