<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** Louder by so much (dB), but nothing above a ceiling (dBTP), let go in so long (ms). */
final readonly class LimiterSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Limiter;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $gainDb = 0.0,
        public float $ceilingDb = -6.0,
        public float $releaseMs = 90.0,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Limiter', true),
            'gainDb' => Parameter::number('Louder', 'dB', 0.0, 24.0, 0.0, 0.5)->moving(),
            'ceilingDb' => Parameter::number('Ceiling', 'dBTP', -24.0, 0.0, -6.0, 0.1)->moving(),
            'releaseMs' => Parameter::number('Release', 'ms', 10.0, 1000.0, 90.0, 1.0, 0)->bent(2.0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    /** What comes out is not the sum of what its parts would be. */
    public function isLinear(): bool
    {
        return false;
    }

    public function lateFrames(float $sampleRate): int
    {
        return Limiter::NEEDS;
    }

    public function insert(Timing $timing): Insert
    {
        return new LimiterInsert($this, $timing);
    }
}
