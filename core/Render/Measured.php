<?php

namespace Pestle\Core\Render;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Signal\Decibels;

/** How loud a mix is from its first moment to its last, and how high every line reaches behind its fader. */
final class Measured
{
    private readonly LoudnessMeter $meter;
    /** @var array<string, float> by line */
    private array $peaks = [];
    private float $limiter = 1.0;

    public function __construct(private readonly Beat $beat)
    {
        $this->meter = new LoudnessMeter(Beat::SAMPLE_RATE);
    }

    public function add(Moment $moment): void
    {
        $this->meter->add($moment->mix->block());
        foreach ($moment->levels as $id => $level) {
            $this->peaks[$id] = max([$this->peaks[$id] ?? 0.0, ...$level->peaks()]);
        }
        $this->limiter = min([$this->limiter, ...$moment->reductions['limiter'] ?? []]);
    }

    /** @return array{integratedLufs: float, shortTermLufs: float, momentaryLufs: float, rangeLu: float, truePeakDb: float, correlation: float, limiterDb: float, peaksDb: array<string, float>} */
    public function all(): array
    {
        $peaks = [];
        foreach ($this->peaks as $id => $peak) {
            $peaks[$id] = round(Decibels::fromGain($peak) + ($this->beat->mixer->nodes[$id]->gainDb ?? 0.0), 1);
        }

        return [
            'integratedLufs' => round($this->meter->integratedLufs(), 1),
            'shortTermLufs' => round($this->meter->shortTermLufs(), 1),
            'momentaryLufs' => round($this->meter->momentaryLufs(), 1),
            'rangeLu' => round($this->meter->rangeLu(), 1),
            'truePeakDb' => round($this->meter->truePeakDb(), 1),
            'correlation' => round($this->meter->correlation(), 2),
            'limiterDb' => round(Decibels::fromGain($this->limiter), 1),
            'peaksDb' => $peaks,
        ];
    }
}
