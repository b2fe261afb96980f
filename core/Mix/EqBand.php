<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Signal\Biquad;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** One band of an equalizer. */
final readonly class EqBand implements Settable
{
    use Settings;

    public function __construct(
        public EqShape $shape,
        public float $hz,
        public float $gainDb = 0.0,
        public float $q = 0.71,
        public bool $on = false,
        public EqSlope $slope = EqSlope::Twelve,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'shape' => Parameter::choice('Shape', EqShape::Peak),
            'hz' => Parameter::number('Frequency', 'Hz', 20.0, 20_000.0, 1000.0, 1.0, 0, true),
            'gainDb' => Parameter::number('Gain', 'dB', -18.0, 18.0, 0.0, 0.5, moves: true),
            'q' => Parameter::number('Q', '', 0.3, 10.0, 0.71, 0.01, 2, true),
            'on' => Parameter::onOff('Band'),
            'slope' => Parameter::choice('Slope', EqSlope::Twelve),
        ];
    }

    /** @return list<self> the four bands of a new equalizer, all off */
    public static function defaults(): array
    {
        return [
            new self(EqShape::HighPass, 40.0),
            new self(EqShape::LowShelf, 120.0),
            new self(EqShape::Peak, 1200.0, 0.0, 1.0),
            new self(EqShape::HighShelf, 8000.0),
        ];
    }

    /** Whether the band changes the sound at all. */
    public function isActive(): bool
    {
        return $this->on && ($this->shape->isPass() || 0.0 !== $this->gainDb);
    }

    /** @return list<Biquad> sections in series: one, for steep cuts more, and none where it changes nothing */
    public function sections(float $sampleRate): array
    {
        return $this->sectionsAt($this->hz, $this->gainDb, $this->q, $sampleRate);
    }

    /** @return list<Biquad> what sections() would be with other values: no band is made for it, as there are many where they move */
    public function sectionsAt(float $hz, float $gainDb, float $q, float $sampleRate): array
    {
        if (!$this->on || (0.0 === $gainDb && !$this->shape->isPass())) {
            return [];
        }

        return match ($this->shape) {
            EqShape::Peak => [Biquad::peaking($hz, $q, $gainDb, $sampleRate)],
            EqShape::LowShelf => [Biquad::lowShelf($hz, $q, $gainDb, $sampleRate)],
            EqShape::HighShelf => [Biquad::highShelf($hz, $q, $gainDb, $sampleRate)],
            EqShape::HighPass => array_map(static fn (float $own): Biquad => Biquad::highPass($hz, $own, $sampleRate), $this->slope->qualities($q)) ?: [Biquad::gentleHighPass($hz, $sampleRate)],
            EqShape::LowPass => array_map(static fn (float $own): Biquad => Biquad::lowPass($hz, $own, $sampleRate), $this->slope->qualities($q)) ?: [Biquad::gentleLowPass($hz, $sampleRate)],
        };
    }

    public function with(array $changed): static
    {
        /** @var array{shape: EqShape, hz: float, gainDb: float, q: float, on: bool, slope: EqSlope} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @return array<string, string|float|bool> */
    public function toArray(): array
    {
        /** @var array<string, bool|float|string> $plain */
        $plain = [...get_object_vars($this), 'shape' => $this->shape->value, 'slope' => $this->slope->value];

        return $plain;
    }
}
