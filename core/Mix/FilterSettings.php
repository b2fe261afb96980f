<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/**
 * A filter whose place moves: shape, cut-off (Hz; of a comb its note), resonance (0 to 1), how far a wave and the loudness
 * move it (octaves; of a formant vowels), mix (%), and which vowel it is (0 to 4: a e i o u).
 */
final readonly class FilterSettings implements InsertSettings
{
    use Turning;

    public const KIND = InsertKind::Filter;

    public function __construct(
        public string $id,
        public bool $on = true,
        public SweptShape $shape = SweptShape::Low,
        public float $cutoffHz = 1200.0,
        public float $resonance = 0.2,
        public float $octaves = 0.0,
        public NoteLength $time = NoteLength::Straight,
        public float $rateHz = 0.5,
        public int $sixteenths = 16,
        public float $follow = 0.0,
        public float $mix = 100.0,
        public float $vowel = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Filter', true),
            'shape' => Parameter::choice('Shape', SweptShape::Low),
            'cutoffHz' => Parameter::number('Cut-off', 'Hz', 20.0, 20000.0, 1200.0, 1.0, 0, true)->bent(3.0),
            'vowel' => Parameter::number('Vowel, a e i o u', '', 0.0, 4.0, 0.0, 0.1, 1, true),
            'resonance' => Parameter::number('Resonance', '', 0.0, 1.0, 0.2, 0.01, 2, true),
            'octaves' => Parameter::number('Wave', 'octaves', 0.0, 5.0, 0.0, 0.1)->moving(),
            ...self::rates(0.5, 12.0),
            'follow' => Parameter::number('Loudness', 'octaves', -5.0, 5.0, 0.0, 0.1)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function acts(): bool
    {
        return $this->on && SweptShape::Off !== $this->shape;
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
        return match ($this->shape) {
            SweptShape::Comb => new Comb($this, $timing),
            SweptShape::Formant => new Formants($this, $timing),
            default => new Filter($this, $timing),
        };
    }
}
