<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Signal\Biquad;

/** One band of a channel's equalizer. */
final readonly class EqBand
{
    public const MIN_HZ = 20.0;
    public const MAX_HZ = 20000.0;
    public const MAX_GAIN_DB = 18.0;
    public const MIN_Q = 0.3;
    public const MAX_Q = 10.0;

    public function __construct(
        public EqShape $shape,
        public float $hz,
        public float $gainDb = 0.0,
        public float $q = 0.71,
        public bool $on = false,
    ) {
    }

    /** @return list<self> the four bands of a new channel, all off */
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

    public function biquad(float $sampleRate): Biquad
    {
        return match ($this->shape) {
            EqShape::HighPass => Biquad::highPass($this->hz, $this->q, $sampleRate),
            EqShape::LowPass => Biquad::lowPass($this->hz, $this->q, $sampleRate),
            EqShape::LowShelf => Biquad::lowShelf($this->hz, $this->q, $this->gainDb, $sampleRate),
            EqShape::HighShelf => Biquad::highShelf($this->hz, $this->q, $this->gainDb, $sampleRate),
            EqShape::Peak => Biquad::peaking($this->hz, $this->q, $this->gainDb, $sampleRate),
        };
    }

    /** @return array<string, string|float|bool> */
    public function toArray(): array
    {
        /** @var array<string, bool|float|string> $plain */
        $plain = [...get_object_vars($this), 'shape' => $this->shape->value];

        return $plain;
    }
}
