<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Tempo;

/**
 * Echoes: how far apart (sixteenths, straight, dotted or as triplets; or ms), how much of each comes again (%), how dull
 * and how thin they become (Hz), whether they go from side to side, how far they lie off their place in time (ms), how much of them is heard (%), and how far they step
 * back while the sound itself plays (dB).
 */
final readonly class DelaySettings implements InsertSettings
{
    use PlainInsert;

    public const KIND = InsertKind::Delay;
    /** Where what is dulled and thinned is all there is: nothing. */
    public const LOWEST_HZ = 20.0;
    public const HIGHEST_HZ = 20000.0;
    /** What lies further apart is no echo. */
    private const MOST_SECONDS = 12.0;
    private const LEAST_SECONDS = 0.001;
    private const GRID_DB = 140.0;

    public function __construct(
        public string $id,
        public bool $on = true,
        public NoteLength $time = NoteLength::Straight,
        public int $sixteenths = 3,
        public float $ms = 250.0,
        public float $feedback = 35.0,
        public float $lowCutHz = 150.0,
        public float $highCutHz = 6000.0,
        public bool $sides = true,
        public float $mix = 25.0,
        public float $duckDb = 0.0,
        public float $offsetMs = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Delay', true),
            'time' => Parameter::choice('Time', NoteLength::Straight),
            'sixteenths' => Parameter::whole('Sixteenths', '', 1, 64, 3),
            'offsetMs' => Parameter::number('Off the beat by', 'ms', -100.0, 100.0, 0.0, 1.0, 0)->settled('it is how long its line is.'),
            'ms' => Parameter::number('Free time', 'ms', 1.0, 2000.0, 250.0, 1.0, 0)->bent(2.0)->settled('it is how long its line is.'),
            'feedback' => Parameter::number('Comes again', '%', 0.0, 95.0, 35.0, 1.0, 0)->moving(),
            'lowCutHz' => Parameter::number('Thinner below', 'Hz', self::LOWEST_HZ, 2000.0, 150.0, 10.0, 0)->bent(2.0)->moving(),
            'highCutHz' => Parameter::number('Duller above', 'Hz', 500.0, self::HIGHEST_HZ, 6000.0, 10.0, 0)->bent(3.0)->moving(),
            'sides' => Parameter::onOff('Side to side', true),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 25.0, 1.0, 0)->moving(),
            'duckDb' => Parameter::number('Steps back', 'dB', 0.0, 30.0, 0.0, 0.5)->moving(),
        ];
    }

    public function goesByTime(): bool
    {
        return !$this->time->isFree();
    }

    /** Stepping back goes by how loud the whole is. */
    public function isLinear(): bool
    {
        return 0.0 === $this->duckDb;
    }

    /** From one echo to the next. */
    public function apart(Tempo $tempo): float
    {
        return $this->time->isFree() ? $this->ms / 1000.0 : max(self::LEAST_SECONDS, min(self::MOST_SECONDS, $this->time->seconds($this->sixteenths, $tempo) + $this->offsetMs / 1000.0));
    }

    public function seconds(Tempo $tempo): float
    {
        $echoes = $this->feedback < 1.0 ? 1.0 : 1.0 + self::GRID_DB / -(20.0 * log10(0.01 * $this->feedback));

        return self::USUAL_SECONDS + $echoes * $this->apart($tempo);
    }

    public function insert(Timing $timing): Insert
    {
        return new Delay($this, $timing);
    }
}
