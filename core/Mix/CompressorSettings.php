<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Theory\Parameter;

/**
 * Threshold (dBFS), ratio to one and over how many dB it sets in, attack and release (ms), make-up gain (dB), and what steers
 * it. What it listens to: peaks or mean power, only what lies between two frequencies (Hz), so many ms before it is heard;
 * with automatic release the time that is set is the longest, hits are let go sooner.
 */
final readonly class CompressorSettings implements InsertSettings
{
    use SteeredInsert;

    public const KIND = InsertKind::Compressor;
    /** At these it listens to everything. */
    public const LOWEST_HZ = 20.0;
    public const HIGHEST_HZ = 20000.0;
    public const MOST_AHEAD_MS = 10.0;

    /** @param string|null $key line whose sound decides the gain; null for its own */
    public function __construct(
        public string $id,
        public bool $on = false,
        public float $thresholdDb = -18.0,
        public float $ratio = 2.5,
        public float $attackMs = 10.0,
        public float $releaseMs = 120.0,
        public float $makeupDb = 0.0,
        public ?string $key = null,
        public float $kneeDb = 0.0,
        public Detector $detector = Detector::Peak,
        public bool $auto = false,
        public float $aheadMs = 0.0,
        public float $aboveHz = self::LOWEST_HZ,
        public float $belowHz = self::HIGHEST_HZ,
        public float $mix = 100.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Compressor'),
            'thresholdDb' => Parameter::number('Threshold', 'dB', -60.0, 0.0, -18.0, 0.5, moves: true),
            'ratio' => Parameter::number('Ratio', ': 1', 1.0, 20.0, 2.5, 0.1, moves: true),
            'kneeDb' => Parameter::number('Knee', 'dB', 0.0, 24.0, 0.0, 0.5)->moving(),
            'attackMs' => Parameter::number('Attack', 'ms', 0.1, 200.0, 10.0, 0.1)->moving(),
            'releaseMs' => Parameter::number('Release', 'ms', 5.0, 2000.0, 120.0, 1.0, 0)->moving(),
            'auto' => Parameter::onOff('Automatic release'),
            'makeupDb' => Parameter::number('Make-up', 'dB', 0.0, 24.0, 0.0, 0.5, moves: true),
            'detector' => Parameter::choice('Goes by', Detector::Peak),
            'aheadMs' => Parameter::number('Looks ahead', 'ms', 0.0, self::MOST_AHEAD_MS, 0.0, 0.5)->settled('it is how long the sound waits.'),
            'aboveHz' => Parameter::number('Hears above', 'Hz', self::LOWEST_HZ, 2000.0, self::LOWEST_HZ, 1.0, 0)->bent(3.0)->settled('it is what its ear is made of.'),
            'belowHz' => Parameter::number('Hears below', 'Hz', 200.0, self::HIGHEST_HZ, self::HIGHEST_HZ, 10.0, 0)->bent(3.0)->settled('it is what its ear is made of.'),
            'mix' => Parameter::number('Mix', '%', 0.0, 100.0, 100.0, 1.0, 0)->moving(),
        ];
    }

    public function lateFrames(float $sampleRate): int
    {
        // Whole steps: so all that counts in steps behind it counts as before.
        return GainCurve::STEP * (int) round(0.001 * $this->aheadMs * $sampleRate / GainCurve::STEP);
    }

    public function insert(Timing $timing): Insert
    {
        $plain = Detector::Peak === $this->detector && !$this->auto && self::LOWEST_HZ === $this->aboveHz && self::HIGHEST_HZ === $this->belowHz;

        return $plain ? new Compressor($this, $timing->sampleRate) : new ListeningCompressor($this, $timing->sampleRate, $timing->rules);
    }
}
