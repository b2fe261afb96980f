<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/** As an old converter hears: how many bits, how often a second (Hz), how dull before (Hz as a share of that, %), mix (%). */
final readonly class OldConverterSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::OldConverter;

    public function __construct(public string $id, public bool $on = true, public float $bits = 12.0, public float $rateHz = 26000.0, public float $clean = 0.0, public float $mix = 100.0)
    {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Old converter', true),
            'bits' => Parameter::number('Bits', '', 2.0, 16.0, 12.0, 0.5)->moving(),
            'rateHz' => Parameter::number('Rate', 'Hz', 1000.0, 44100.0, 26000.0, 100.0, 0)->bent(2.0)->moving(),
            'clean' => Parameter::number('Filtered before', '%', 0.0, 100.0, 0.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function isLinear(): bool
    {
        return false;
    }

    public function insert(Timing $timing): Insert
    {
        return new OldConverter($this, $timing->sampleRate);
    }
}
