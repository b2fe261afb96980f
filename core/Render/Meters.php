<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Signal\Decibels;

/**
 * How loud everything was, for drawing: peaks every Rendered::PEAK_FRAMES, and how far dynamics pulled down. Numbers are
 * kept and moments let go.
 */
final class Meters
{
    /** @var array<int, list<float>> by segment, left and right by turns */
    private array $mix = [];
    /** @var array<int, array<string, list<float>>> by segment and line of the mixer */
    private array $channels = [];
    /** @var array<int, array<string, float>> by segment, lowest gain in dB */
    private array $reductions = [];

    public function __construct(private readonly Beat $beat)
    {
    }

    /** Of a segment that comes again, the last counts. */
    public function add(Moment $moment): void
    {
        $i = $moment->segment->index;
        $columns = (int) ceil($moment->segment->frames / Rendered::PEAK_FRAMES);
        $this->mix[$i] = self::peaks($moment->mix, $columns, 1.0);
        $this->channels[$i] = [];
        foreach ($moment->levels as $id => $level) {
            $this->channels[$i][$id] = self::peaks($level, $columns, Decibels::toGain($this->beat->mixer->nodes[$id]->gainDb ?? 0.0));
        }
        $this->reductions[$i] = array_map(static fn (float $gain): float => round(20.0 * log10(max($gain, 1e-4)), 1), $moment->reductions);
    }

    public function count(): int
    {
        return \count($this->mix);
    }

    /** @return array{every: int, mix: list<float>, channels: array<string, list<float>>, reductions: array<string, list<float>>} */
    public function all(): array
    {
        ksort($this->mix);
        $channels = $reductions = [];
        foreach (array_keys($this->mix) as $i) {
            foreach ($this->channels[$i] as $id => $peaks) {
                $channels[$id][] = $peaks;
            }
            foreach ($this->reductions[$i] as $id => $decibels) {
                $reductions[$id][] = $decibels;
            }
        }

        return [
            'every' => Rendered::PEAK_FRAMES,
            'mix' => array_merge(...array_values($this->mix)),
            'channels' => array_map(static fn (array $peaks): array => array_merge(...$peaks), $channels),
            'reductions' => $reductions,
        ];
    }

    /** @return list<float> left and right by turns */
    private static function peaks(Rendered $rendered, int $columns, float $gain): array
    {
        $peaks = $rendered->peaks();

        return [] === $peaks
            ? array_fill(0, 2 * $columns, 0.0)
            : array_map(static fn (float $peak): float => round($peak * $gain, 4), $peaks);
    }
}
