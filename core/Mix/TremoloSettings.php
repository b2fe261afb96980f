<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Level or place that moves, or the sound times a tone: style, rate, tone of the ring (Hz), depth (%). */
final readonly class TremoloSettings implements InsertSettings
{
    use Turning;

    public const KIND = InsertKind::Tremolo;

    public function __construct(
        public string $id,
        public bool $on = true,
        public TremoloStyle $style = TremoloStyle::Level,
        public NoteLength $time = NoteLength::Straight,
        public float $rateHz = 4.0,
        public int $sixteenths = 2,
        public float $ringHz = 220.0,
        public float $depth = 50.0,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Tremolo', true),
            'style' => Parameter::choice('Moves', TremoloStyle::Level),
            ...self::rates(4.0, 20.0),
            'ringHz' => Parameter::number('Tone of the ring', 'Hz', 10.0, 5000.0, 220.0, 1.0, 0)->bent(2.5)->settled('its waves are counted from the start.'),
            'depth' => Parameter::number('Depth', '%', 0.0, 100.0, 50.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Tremolo($this, $timing);
    }
}
