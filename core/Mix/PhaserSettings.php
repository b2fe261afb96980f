<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Notches that wander: rate, from where (Hz) and how far up (octaves), how much comes again (%), how far its sides are apart (%), mix (%). */
final readonly class PhaserSettings implements InsertSettings
{
    use Turning;

    public const KIND = InsertKind::Phaser;

    public function __construct(
        public string $id,
        public bool $on = true,
        public NoteLength $time = NoteLength::Free,
        public float $rateHz = 0.3,
        public int $sixteenths = 16,
        public float $fromHz = 250.0,
        public float $octaves = 3.0,
        public float $feedback = 30.0,
        public float $width = 50.0,
        public float $mix = 50.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Phaser', true),
            ...self::rates(0.3, 12.0),
            'fromHz' => Parameter::number('From', 'Hz', 40.0, 4000.0, 250.0, 10.0, 0)->bent(2.5)->moving(),
            'octaves' => Parameter::number('Up by', 'octaves', 0.0, 6.0, 3.0, 0.1)->moving(),
            'feedback' => Parameter::number('Comes again', '%', 0.0, 90.0, 30.0, 1.0, 0)->moving(),
            'width' => Parameter::number('Width', '%', 0.0, 100.0, 50.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 50.0, 1.0, 0)->moving(),
        ];
    }

    public function insert(Timing $timing): Insert
    {
        return new Phaser($this, $timing);
    }
}
