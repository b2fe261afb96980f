<?php

namespace Pestle\Core\Render;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Decibels;

/**
 * How loud a mix is while it plays: mean power over the last 0.3 s, momentary loudness over 0.4 s and short-term over 3 s
 * (EBU Tech 3341), every Rendered::PEAK_FRAMES. What was measured of a segment after another is remembered: the filters
 * forget in less than a segment, so that after an edit only what changed is measured.
 */
final class LiveLoudness
{
    private const WINDOWS = ['rms' => 0.3, 'momentary' => 0.4, 'shortTerm' => 3.0];
    private const MOST_KNOWN = 4096;

    private readonly Biquad $shelf;
    private readonly Biquad $high;
    /** @var array<string, Loud> by segment and the one before it; the oldest first */
    private array $known = [];

    public function __construct()
    {
        [$this->shelf, $this->high] = LoudnessMeter::weighting(Beat::SAMPLE_RATE);
    }

    /**
     * @param string    $key    the same key means the same sound
     * @param Loud|null $before what came before it; null at the start
     */
    public function of(string $key, Rendered $sound, ?Loud $before): Loud
    {
        $name = ($before->key ?? '')."\n".$key;
        if (!isset($this->known[$name])) {
            $this->known[$name] = $this->measured($key, $sound->block(), $before->states ?? [[0.0, 0.0, 0.0, 0.0], [0.0, 0.0, 0.0, 0.0]]);
            if (\count($this->known) > self::MOST_KNOWN) {
                array_shift($this->known);
            }
        }

        return $this->known[$name];
    }

    /** @param array{array{float, float, float, float}, array{float, float, float, float}} $states */
    private function measured(string $key, StereoBlock $block, array $states): Loud
    {
        $powers = [];
        foreach ([$block->left, $block->right] as $side => $signal) {
            [$weighted, $states[$side]] = BiquadPair::filter($signal, $this->shelf, $this->high, $states[$side]);
            foreach ([$signal, $weighted] as $k => $sound) {
                foreach (array_chunk($sound, Rendered::PEAK_FRAMES) as $c => $stretch) {
                    $powers[$c][$k] = ($powers[$c][$k] ?? 0.0) + LoudnessMeter::product($stretch, $stretch) / \count($stretch);
                }
            }
        }

        return new Loud($key, array_map(static fn (array $p): array => [$p[0] ?? 0.0, $p[1] ?? 0.0], array_values($powers)), $states);
    }

    /**
     * @param list<array{float, float}> $powers plain and weighted, stretch after stretch
     * @param list<array{float, float}> $before those that came before; the same again for what goes round
     *
     * @return array<string, list<float>> dB (rms) and LUFS
     */
    public static function shown(array $powers, array $before): array
    {
        $shown = [];
        foreach (self::WINDOWS as $name => $seconds) {
            $k = 'rms' === $name ? 0 : 1;
            $width = $seconds * Beat::SAMPLE_RATE / Rendered::PEAK_FRAMES;
            $known = [...array_column($before, $k), ...array_column($powers, $k)];
            $from = \count($before);
            $sums = [0.0];
            foreach ($known as $i => $power) {
                $sums[] = $sums[$i] + $power;
            }
            foreach (array_keys($powers) as $i) {
                $end = $from + $i + 1;
                $first = max(0, $end - (int) ceil($width));
                // Of the earliest stretch only as much as lies in the window.
                $left = $end - $first > $width ? 1.0 - ($end - $first - $width) : 1.0;
                $mean = ($sums[$end] - $sums[$first] - (1.0 - $left) * $known[$first]) / max(1e-9, min($width, $end - $first - (1.0 - $left)));
                $shown[$name][] = round('rms' === $name ? 10.0 * log10(max(1e-12, 0.5 * $mean)) : max(Decibels::FLOOR, -0.691 + 10.0 * log10(max(1e-12, $mean))), 1);
            }
        }

        return $shown;
    }

    /** Stretches that matter to what follows. */
    public static function most(): int
    {
        return (int) ceil(max(self::WINDOWS) * Beat::SAMPLE_RATE / Rendered::PEAK_FRAMES);
    }
}
