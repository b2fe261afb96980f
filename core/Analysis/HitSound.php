<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * What a hit sounds like, in numbers: how its energy is spread over the spectrum when it begins (less what was
 * still ringing), how fast each part of it dies away, how noisy it is and how abruptly it starts.
 * Source: P. Herrera, A. Yeterian and F. Gouyon, "Automatic classification of drum sounds" (ICMAI 2002).
 */
final class HitSound
{
    private const EDGES_HZ = [20, 50, 80, 120, 200, 320, 500, 900, 1600, 3000, 5500, 9000, 16000];
    /** The bands in four groups: lows, low middle, middle, highs. */
    private const GROUPS = [[0, 3], [3, 6], [6, 9], [9, 12]];
    private const WINDOW_SECONDS = 0.0464;
    private const FLOOR = 1e-6;

    private readonly Fft $fft;
    /** @var list<float> */
    private array $window;
    /** @var list<int> first bin of each band, and the one after the last */
    private array $edges = [];

    /** @param float $peak largest value in the source */
    public function __construct(private readonly AudioSource $source, private readonly float $peak)
    {
        $rate = $source->sampleRate();
        $this->fft = Fft::near($rate * self::WINDOW_SECONDS);
        $this->window = Window::hann($this->fft->size);
        foreach (self::EDGES_HZ as $hz) {
            $this->edges[] = min(intdiv($this->fft->size, 2), max(1, (int) round($hz * $this->fft->size / $rate)));
        }
    }

    /**
     * @param int $frame where the hit begins
     * @param int $until where the next one begins, or the source ends
     *
     * @return list<float>
     */
    public function features(int $frame, int $until): array
    {
        $size = $this->fft->size;
        $pad = intdiv($size, 4);
        $before = $this->spectrum($frame - $size, $frame - 32);
        // The window is highest a quarter of its length after the hit's begin.
        $first = $this->spectrum($frame - $pad, min($until, $frame - $pad + $size));
        $second = $this->spectrum($frame + $pad, min($until, $frame + $pad + $size));
        $third = $this->spectrum($frame + 3 * $pad, min($until, $frame + 3 * $pad + $size));
        $fourth = $this->spectrum($frame + 9 * $pad, min($until, $frame + 9 * $pad + $size));
        $energy = $this->bands($first);
        foreach ($this->bands($before) as $b => $was) {
            $energy[$b] = max(self::FLOOR, $energy[$b] - 0.7 * $was);
        }
        $total = array_sum($energy);
        $out = [log($total)];
        foreach ($energy as $e) {
            $out[] = log($e / $total + 1e-4);
        }
        [$late, $later, $last] = [$this->bands($second), $this->bands($third), $this->bands($fourth)];
        foreach (self::GROUPS as [$from, $to]) {
            $now = array_sum(\array_slice($energy, $from, $to - $from)) + self::FLOOR;
            $out[] = log((array_sum(\array_slice($late, $from, $to - $from)) + 0.01 * $now) / $now);
            $out[] = log((array_sum(\array_slice($later, $from, $to - $from)) + 0.01 * $now) / $now);
            $out[] = log((array_sum(\array_slice($last, $from, $to - $from)) + 0.01 * $now) / $now);
        }
        $out[] = $this->flatness($first, 6, 9);
        $out[] = $this->flatness($first, 9, 12);
        $out[] = $this->lowPeak($first);

        return [...$out, ...$this->start($frame, $until)];
    }

    /**
     * What each hit sounds like, and how it differs from what is usual in its recording: in a dull copy the brightest
     * hits are the hats all the same.
     *
     * @param list<list<float>> $features of the recording's hits
     *
     * @return list<list<float>> twice as many numbers for each
     */
    public static function among(array $features): array
    {
        $usual = [];
        foreach (array_keys($features[0] ?? []) as $i) {
            $column = array_column($features, $i);
            sort($column);
            $usual[] = $column[intdiv(\count($column), 2)];
        }

        return array_map(static fn (array $own): array => [...$own, ...array_map(static fn (float $x, float $u): float => $x - $u, $own, $usual)], $features);
    }

    /**
     * Octaves above 20 Hz of the strongest frequency below 500 Hz.
     *
     * @param list<float> $spectrum
     */
    private function lowPeak(array $spectrum): float
    {
        $best = $this->edges[0];
        for ($k = $best; $k < $this->edges[6]; ++$k) {
            $best = $spectrum[$k] > $spectrum[$best] ? $k : $best;
        }
        [$a, $b, $c] = [log($spectrum[max(0, $best - 1)] + 1e-12), log($spectrum[$best] + 1e-12), log($spectrum[$best + 1] + 1e-12)];
        $curve = $a - 2.0 * $b + $c;
        $place = $best + ($curve < 0.0 ? max(-0.5, min(0.5, 0.5 * ($a - $c) / $curve)) : 0.0);

        return log(max(1.0, $place * $this->source->sampleRate() / $this->fft->size / 20.0), 2);
    }

    /** @return list<float> squared magnitudes of what lies between two frames */
    private function spectrum(int $from, int $to): array
    {
        $size = $this->fft->size;
        $count = max(0, min($size, $to - $from));
        $scale = 1.0 / max(1e-9, $this->peak) / $size * 2.0;
        $signal = array_fill(0, $size, 0.0);
        if ($count > 0) {
            $block = $this->source->read($from, $count);
            foreach ($block->left as $i => $l) {
                $signal[$i] = ($l + $block->right[$i]) * $this->window[$i] * $scale;
            }
        }
        [$re, $im] = $this->fft->forward($signal);
        foreach ($re as $k => $r) {
            $re[$k] = $r * $r + $im[$k] * $im[$k];
        }

        return $re;
    }

    /**
     * @param list<float> $spectrum
     *
     * @return list<float>
     */
    private function bands(array $spectrum): array
    {
        $out = [];
        for ($b = 0, $n = \count($this->edges) - 1; $b < $n; ++$b) {
            $sum = self::FLOOR;
            for ($k = $this->edges[$b]; $k < $this->edges[$b + 1]; ++$k) {
                $sum += $spectrum[$k];
            }
            $out[] = $sum;
        }

        return $out;
    }

    /**
     * Geometric over arithmetic mean, as a logarithm: near 0 for noise, far below for tones.
     *
     * @param list<float> $spectrum
     */
    private function flatness(array $spectrum, int $from, int $to): float
    {
        $part = \array_slice($spectrum, $this->edges[$from], max(1, $this->edges[$to] - $this->edges[$from]));
        $logs = $sum = 0.0;
        foreach ($part as $e) {
            $logs += log($e + 1e-12);
            $sum += $e + 1e-12;
        }

        return $logs / \count($part) - log($sum / \count($part));
    }

    /** @return list<float> share of the first 30 ms' energy that falls in its thirds, and the crest of its envelope */
    private function start(int $frame, int $until): array
    {
        $step = max(1, (int) ($this->source->sampleRate() * 0.0025));
        $block = $this->source->read($frame, max($step, min(12 * $step, $until - $frame)));
        $energy = array_fill(0, 12, 1e-9);
        $before = 0.0;
        foreach ($block->left as $i => $l) {
            $x = $l + $block->right[$i];
            $d = $x - $before;
            $before = $x;
            $energy[min(11, intdiv($i, $step))] += $d * $d;
        }
        $sum = array_sum($energy);
        $peaks = 0;
        for ($i = 1; $i < 11; ++$i) {
            $peaks += $energy[$i] > 1.5 * $energy[$i - 1] && $energy[$i] > 0.1 * max($energy) ? 1 : 0;
        }

        return [array_sum(\array_slice($energy, 0, 4)) / $sum, array_sum(\array_slice($energy, 4, 4)) / $sum, log(max($energy) / $sum), (float) $peaks];
    }
}
