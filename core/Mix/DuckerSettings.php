<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Tempo;

/** Steps back by so much (dB) while another sound is louder than a level (dBFS); how fast, how long after it, how fast back (ms). */
final readonly class DuckerSettings implements InsertSettings
{
    use SteeredInsert;

    public const KIND = InsertKind::Ducker;
    /** Between two strokes of a kick it is not to come back for a moment. */
    private const HYSTERESIS_DB = 6.0;

    /** From gentle to abrupt by one control: attack, hold and release in ms. */
    private const WAYS = ['gentle' => [40.0, 60.0, 400.0], 'soft' => [15.0, 40.0, 220.0], 'usual' => [4.0, 30.0, 140.0], 'quick' => [1.0, 15.0, 70.0], 'abrupt' => [0.0, 10.0, 25.0]];
    /** Of the time it is to be back in: what it stays down, and the release after which hardly anything is missing in the rest. */
    private const HELD = 0.5;
    private const RELEASED = 0.17;

    public function __construct(
        public string $id,
        public bool $on = true,
        public float $depthDb = 6.0,
        public float $thresholdDb = -30.0,
        public float $attackMs = 4.0,
        public float $holdMs = 30.0,
        public float $releaseMs = 140.0,
        public ?string $key = null,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Ducker', true),
            'depthDb' => Parameter::number('Back by', 'dB', 0.0, 60.0, 6.0, 0.5, moves: true),
            'thresholdDb' => Parameter::number('While it is above', 'dB', -60.0, 0.0, -30.0, 0.5)->moving(),
            'attackMs' => Parameter::number('Attack', 'ms', 0.0, 200.0, 4.0, 0.1)->bent(2.0)->moving(),
            'holdMs' => Parameter::number('Hold', 'ms', 0.0, 1000.0, 30.0, 1.0, 0)->bent(2.0)->settled('it counts from when it was steered.'),
            'releaseMs' => Parameter::number('Release', 'ms', 5.0, 2000.0, 140.0, 1.0, 0)->bent(2.0)->moving(),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    /** @return array<string, array{attackMs: float, holdMs: float, releaseMs: float}> ways to step back, from gentle to abrupt */
    public static function ways(): array
    {
        return array_map(static fn (array $ms): array => ['attackMs' => $ms[0], 'holdMs' => $ms[1], 'releaseMs' => $ms[2]], self::WAYS);
    }

    /**
     * In time with the beat: down for half of so many sixteenths, and back by their end.
     *
     * @return array{holdMs: float, releaseMs: float}
     */
    public static function backAfter(int $sixteenths, Tempo $tempo): array
    {
        $ms = 1000.0 * NoteLength::Straight->seconds($sixteenths, $tempo);

        return ['holdMs' => round(min(1000.0, self::HELD * $ms)), 'releaseMs' => round(max(5.0, min(2000.0, self::RELEASED * $ms)))];
    }

    public function insert(Timing $timing): Insert
    {
        return new Gate(true, $this->thresholdDb, self::HYSTERESIS_DB, $this->attackMs, $this->holdMs, $this->releaseMs, $this->depthDb, $timing->sampleRate);
    }
}
