<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Theory\Parameter;

/** A filter whose place moves: shape, cut-off (Hz), resonance (0 to 1), how far a wave and the loudness move it (octaves), mix (%). */
final readonly class FilterSettings implements InsertSettings
{
    use Turning;

    public const KIND = InsertKind::Filter;

    public function __construct(
        public string $id,
        public bool $on = true,
        public FilterShape $shape = FilterShape::Low,
        public float $cutoffHz = 1200.0,
        public float $resonance = 0.2,
        public float $octaves = 0.0,
        public NoteLength $time = NoteLength::Straight,
        public float $rateHz = 0.5,
        public int $sixteenths = 16,
        public float $follow = 0.0,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Filter', true),
            'shape' => Parameter::choice('Shape', FilterShape::Low),
            'cutoffHz' => Parameter::number('Cut-off', 'Hz', 20.0, 20000.0, 1200.0, 1.0, 0, true)->bent(3.0),
            'resonance' => Parameter::number('Resonance', '', 0.0, 1.0, 0.2, 0.01, 2, true),
            'octaves' => Parameter::number('Wave', 'octaves', 0.0, 5.0, 0.0, 0.1),
            ...self::rates(0.5, 12.0),
            'follow' => Parameter::number('Loudness', 'octaves', -5.0, 5.0, 0.0, 0.1),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0),
        ];
    }

    public function acts(): bool
    {
        return $this->on && FilterShape::Off !== $this->shape;
    }

    public function goesByTime(): bool
    {
        return $this->octaves > 0.0;
    }

    public function isLinear(): bool
    {
        return 0.0 === $this->follow;
    }

    public function insert(Timing $timing): Insert
    {
        return new Filter($this, $timing);
    }
}
