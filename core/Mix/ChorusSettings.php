<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** A doubled sound whose distance moves: style, rate, depth (%), how much of it comes again (%), how far its sides are apart (%), mix (%). */
final readonly class ChorusSettings implements InsertSettings
{
    use Turning;

    public const KIND = InsertKind::Chorus;

    public function __construct(
        public string $id,
        public bool $on = true,
        public ChorusStyle $style = ChorusStyle::Chorus,
        public NoteLength $time = NoteLength::Free,
        public float $rateHz = 0.6,
        public int $sixteenths = 8,
        public float $depth = 40.0,
        public float $feedback = 0.0,
        public float $width = 100.0,
        public float $mix = 50.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Chorus', true),
            'style' => Parameter::choice('Style', ChorusStyle::Chorus),
            ...self::rates(0.6, 12.0),
            'depth' => Parameter::number('Depth', '%', 0.0, 100.0, 40.0, 1.0, 0)->moving(),
            'feedback' => Parameter::number('Comes again', '%', -90.0, 90.0, 0.0, 1.0, 0)->moving(),
            'width' => Parameter::number('Width', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 50.0, 1.0, 0)->moving(),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Chorus($this, $timing);
    }
}
