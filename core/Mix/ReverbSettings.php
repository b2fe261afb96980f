<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;

/**
 * A room: when it answers (ms), how large it is, how long it rings in its lows and middle (s) and how much of that in its
 * highs (%), how much of it are the first walls (%), how thin (Hz) and wide (%) it is, how much of it is heard, and
 * whether the sound itself comes through.
 */
final readonly class ReverbSettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Reverb;
    /** From the level of the sound to nothing, in times of 60 dB. */
    private const GRID_TIMES = 2.4;
    private const USUAL_RATE = 44100.0;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $preDelayMs = 12.0,
        public float $size = 1.0,
        public float $decay = 1.6,
        public float $highs = 45.0,
        public float $early = 40.0,
        public float $lowCutHz = 180.0,
        public float $width = 100.0,
        public float $mix = 20.0,
        public bool $direct = true,
        public float $density = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Reverb', true),
            'preDelayMs' => Parameter::number('Answers after', 'ms', 0.0, 200.0, 12.0, 1.0, 0)->settled('it is how long its line is.'),
            'size' => Parameter::number('Size', '', 0.3, 2.0, 1.0, 0.05, 2)->settled('it is how long its lines are.'),
            'decay' => Parameter::number('Rings', 's', 0.2, 20.0, 1.6, 0.1, 1)->bent(2.5)->moving(),
            'highs' => Parameter::number('Highs ring', '%', 5.0, 100.0, 45.0, 1.0, 0)->moving(),
            'density' => Parameter::number('Density', '%', 0.0, 100.0, 100.0, 1.0, 0)->settled('it is how its lines are joined.'),
            'early' => Parameter::number('First walls', '%', 0.0, 100.0, 40.0, 1.0, 0)->moving(),
            'lowCutHz' => Parameter::number('Thin below', 'Hz', 20.0, 1000.0, 180.0, 10.0, 0)->bent(2.0)->moving(),
            'width' => Parameter::number('Width', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 20.0, 1.0, 0)->moving(),
            'direct' => Parameter::onOff('Sound itself', true),
        ];
    }

    /** Seconds for 60 dB at a frequency. */
    public function decayAt(float $hz): float
    {
        return SixteenLines::decayAt($hz, $this, self::USUAL_RATE);
    }

    public function seconds(Tempo $tempo): float
    {
        return self::USUAL_SECONDS + self::GRID_TIMES * $this->decay;
    }

    public function insert(Timing $timing): Insert
    {
        $lines = SoundRules::First === $timing->rules ? new EightLines($this, $timing->sampleRate) : new SixteenLines($this, $timing->sampleRate);

        return new Reverb($this, $timing->sampleRate, $lines);
    }
}
