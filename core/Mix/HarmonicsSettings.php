<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Overtones of the highs or the lows beside the sound as it is: of what beyond which frequency (Hz), how hard it is driven (dB), and how much of them is added (dB). */
final readonly class HarmonicsSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Harmonics;

    public function __construct(
        public string $id,
        public bool $on = true,
        public HarmonicsStyle $style = HarmonicsStyle::Bright,
        public float $hz = 3500.0,
        public float $driveDb = 18.0,
        public float $addedDb = -12.0,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Harmonics', true),
            'style' => Parameter::choice('Overtones of', HarmonicsStyle::Bright),
            'hz' => Parameter::number('Beyond', 'Hz', 40.0, 10_000.0, 3500.0, 10.0, 0)->bent(3.0)->moving(),
            'driveDb' => Parameter::number('Drive', 'dB', 0.0, 36.0, 18.0, 0.5, moves: true),
            'addedDb' => Parameter::number('Added', 'dB', -40.0, 6.0, -12.0, 0.5, moves: true),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function isLinear(): bool
    {
        return false;
    }

    public function insert(Timing $timing): Insert
    {
        return new Harmonics($this, $timing->sampleRate);
    }
}
