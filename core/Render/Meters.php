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
    /** @var array<int, array<string, list<float>>> by segment, lowest gains in dB */
    private array $reductions = [];

    /** @var array<int, list<array{float, float}>> by segment */
    private array $powers = [];
    private ?Loud $last;

    /** @param Recent|null $recent what was played before; null for what goes round */
    public function __construct(private readonly Beat $beat, private readonly LiveLoudness $loudness, private readonly ?Recent $recent = null)
    {
        $this->last = $recent?->last;
    }

    /** Of a segment that comes again, the last counts. */
    public function add(Moment $moment): void
    {
        $i = $moment->segment->index;
        $columns = (int) ceil($moment->segment->frames / Rendered::PEAK_FRAMES);
        $this->last = $this->loudness->of($moment->key, $moment->mix, $this->last);
        $this->powers[$i] = $this->last->powers;
        $this->mix[$i] = self::peaks($moment->mix, $columns, 1.0);
        $this->channels[$i] = [];
        foreach ($moment->levels as $id => $level) {
            $this->channels[$i][$id] = self::peaks($level, $columns, Decibels::toGain($this->beat->mixer->nodes[$id]->gainDb ?? 0.0));
        }
        $this->reductions[$i] = array_map(static fn (array $gains): array => [] === $gains ? array_fill(0, $columns, 0.0) : array_map(static fn (float $gain): float => round(Decibels::fromGain(max($gain, 1e-4)), 1), $gains), $moment->reductions);
    }

    public function count(): int
    {
        return \count($this->mix);
    }

    /** @return array{every: int, mix: list<float>, channels: array<string, list<float>>, reductions: array<string, list<float>>, loudness: array<string, list<float>>} */
    public function all(): array
    {
        ksort($this->mix);
        ksort($this->powers);
        $powers = array_merge(...array_values($this->powers));
        $loudness = LiveLoudness::shown($powers, null === $this->recent ? $powers : $this->recent->powers);
        if (null !== $this->recent) {
            $this->recent->last = $this->last;
            $this->recent->add($powers);
        }
        $channels = $reductions = [];
        // An insert that rests says nothing.
        $acting = array_keys(array_merge(...array_values($this->reductions)));
        foreach ($this->mix as $i => $mix) {
            foreach ($this->channels[$i] as $id => $peaks) {
                $channels[$id][] = $peaks;
            }
            foreach ($acting as $id) {
                $reductions[$id][] = $this->reductions[$i][$id] ?? array_fill(0, intdiv(\count($mix), 2), 0.0);
            }
        }

        return [
            'every' => Rendered::PEAK_FRAMES,
            'mix' => array_merge(...array_values($this->mix)),
            'channels' => array_map(static fn (array $peaks): array => array_merge(...$peaks), $channels),
            'loudness' => $loudness,
            'reductions' => array_map(static fn (array $decibels): array => array_merge(...$decibels), $reductions),
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
