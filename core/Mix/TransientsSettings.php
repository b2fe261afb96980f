<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Tempo;

/** How much louder or softer attacks and what follows them become (%), and the level (dB). */
final readonly class TransientsSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Transients;

    public function __construct(public string $id, public bool $on = true, public float $attack = 30.0, public float $sustain = 0.0, public float $outputDb = 0.0, public float $mix = 100.0)
    {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Transients', true),
            'attack' => Parameter::number('Attacks', '%', -100.0, 100.0, 30.0, 1.0, 0)->moving(),
            'sustain' => Parameter::number('Tails', '%', -100.0, 100.0, 0.0, 1.0, 0)->moving(),
            'outputDb' => Parameter::number('Level', 'dB', -24.0, 12.0, 0.0, 0.5, moves: true),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function isLinear(): bool
    {
        return false;
    }

    public function seconds(Tempo $tempo): float
    {
        return 1.5 * self::USUAL_SECONDS;
    }

    public function insert(Timing $timing): Insert
    {
        return new Transients($this, $timing);
    }
}
