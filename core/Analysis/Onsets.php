<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\Window;

/**
 * Where hits begin. Spectral flux of the log magnitudes picks candidates against a moving median;
 * each is then moved to the steepest rise of the short-time energy just around it.
 * Source: S. Dixon, "Onset detection revisited" (DAFx 2006), with logarithmic compression as in
 * Böck, Krebs and Schedl, "Evaluating the online capabilities of onset detection methods" (ISMIR 2012).
 */
final class Onsets
{
    public const HOP_SECONDS = 0.01;
    private const SIZE = 2048;

    /**
     * @param float $sensitivity 0 (few) to 1 (many)
     * @param float $shortest    least distance of two onsets in seconds
     *
     * @return list<int> frames of the source, ascending
     */
    public static function find(AudioSource $source, float $sensitivity = 0.5, float $shortest = 0.04): array
    {
        return self::pick($source, self::flux($source), $sensitivity, $shortest);
    }

    /**
     * Onset strength every HOP_SECONDS: how much louder each part of the spectrum became.
     *
     * @return list<float>
     */
    public static function flux(AudioSource $source): array
    {
        $hop = max(1, (int) round($source->sampleRate() * self::HOP_SECONDS));
        $size = self::SIZE;
        $fft = new Fft($size);
        $window = Window::hann($size);
        $before = null;
        $flux = [];
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += $hop) {
            $block = $source->read($at - intdiv($size, 2), $size);
            $signal = [];
            foreach ($block->left as $i => $l) {
                $signal[] = ($l + $block->right[$i]) * 0.5 * $window[$i];
            }
            $bands = self::bands($fft->magnitudes($signal), $source->sampleRate());
            $sum = 0.0;
            foreach ($bands as $k => $band) {
                $rise = $band - ($before[$k] ?? 0.0);
                $sum += $rise > 0.0 ? $rise : 0.0;
            }
            $flux[] = $sum / \count($bands);
            $before = $bands;
        }

        return $flux;
    }

    /**
     * Log energy in bands of a third octave from 40 Hz.
     *
     * @param list<float> $magnitudes
     *
     * @return list<float>
     */
    private static function bands(array $magnitudes, int $rate): array
    {
        $bands = [];
        $from = max(1, (int) (40.0 * self::SIZE / $rate));
        $top = \count($magnitudes);
        while ($from < $top) {
            $to = min($top, max($from + 1, (int) ($from * 1.26)));
            $sum = 0.0;
            for ($k = $from; $k < $to; ++$k) {
                $sum += $magnitudes[$k];
            }
            $bands[] = log(1.0 + $sum);
            $from = $to;
        }

        return $bands;
    }

    /**
     * @param list<float> $flux
     *
     * @return list<int>
     */
    public static function pick(AudioSource $source, array $flux, float $sensitivity, float $shortest): array
    {
        if ([] === $flux || 0.0 === max($flux)) {
            return [];
        }
        $rate = $source->sampleRate();
        $hop = max(1, (int) round($rate * self::HOP_SECONDS));
        $strong = $flux;
        sort($strong);
        $scale = $strong[(int) (0.98 * (\count($strong) - 1))] ?: max($flux);
        $floor = $scale * (0.05 + 0.55 * (1.0 - $sensitivity) ** 1.5);
        $found = [];
        $last = -\INF;
        foreach ($flux as $i => $value) {
            $near = \array_slice($flux, max(0, $i - 3), 7);
            $around = \array_slice($flux, max(0, $i - 10), 18);
            sort($around);
            $median = $around[intdiv(\count($around), 2)];
            if ($value < Peak::of($near) || $value < $median * 1.4 + $floor) {
                continue;
            }
            $frame = self::refine($source, $i * $hop);
            if ($frame - $last >= $shortest * $rate) {
                $found[] = $frame;
                $last = $frame;
            }
        }

        return $found;
    }

    /**
     * Where the energy rises most above what it was in the 18 ms before, within 30 ms of a candidate, to about
     * a millisecond. The long look back keeps the swings of a low tone from looking like beginnings.
     */
    private static function refine(AudioSource $source, int $frame): int
    {
        $step = max(1, (int) ($source->sampleRate() * 0.0015));
        $reach = 20;
        $back = 12;
        $start = $frame - ($reach + $back) * $step;
        $block = $source->read($start, (2 * $reach + $back + 1) * $step);
        $energy = [];
        foreach (array_chunk($block->left, $step) as $i => $left) {
            $sum = 0.0;
            foreach ($left as $k => $l) {
                $r = $block->right[$i * $step + $k];
                $sum += $l * $l + $r * $r;
            }
            $energy[] = $sum;
        }
        $best = $reach + $back;
        $most = -1.0;
        for ($i = $back, $n = \count($energy) - 1; $i < $n; ++$i) {
            $was = Peak::of(\array_slice($energy, $i - $back, $back));
            $is = ($energy[$i] + $energy[$i + 1]) / 2.0;
            $rise = log(($is + 1e-5) / ($was + 1e-5)) * sqrt($is);
            if ($rise > $most) {
                $most = $rise;
                $best = $i;
            }
        }

        return max(0, $start + $best * $step);
    }
}
