<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** How wide (%), in the middle below (Hz), balance (-1 to 1), either side turned over, gain (dB). */
final readonly class StereoSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Stereo;
    /** As low as this nothing is brought to the middle. */
    public const NOWHERE_HZ = 20.0;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $width = 100.0,
        public float $monoHz = self::NOWHERE_HZ,
        public float $balance = 0.0,
        public bool $turnLeft = false,
        public bool $turnRight = false,
        public float $gainDb = 0.0,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Stereo', true),
            'width' => Parameter::number('Width', '%', 0.0, 200.0, 100.0, 1.0, 0, true),
            'monoHz' => Parameter::number('In the middle below', 'Hz', self::NOWHERE_HZ, 500.0, self::NOWHERE_HZ, 5.0, 0)->bent(2.0)->moving(),
            'balance' => Parameter::number('Balance', '', -1.0, 1.0, 0.0, 0.05, 2, true),
            'turnLeft' => Parameter::onOff('Left turned over'),
            'turnRight' => Parameter::onOff('Right turned over'),
            'gainDb' => Parameter::number('Gain', 'dB', -24.0, 24.0, 0.0, 0.5, moves: true),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Stereo($this, $timing->sampleRate);
    }
}
