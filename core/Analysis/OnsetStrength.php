<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * How much louder the parts of the spectrum become, 172 times a second: log-compressed spectral flux in bands of
 * a third octave, summed over everything, the lows, the middle and the highs.
 * Source: S. Böck, F. Krebs and M. Schedl, "Evaluating the online capabilities of onset detection methods" (ISMIR 2012).
 */
final readonly class OnsetStrength
{
    public const FRAMES_A_SECOND = 172;
    /** Lows and middle are kept for so long: enough for the tempo, and memory stays small for an hour. */
    public const BANDS_SECONDS = 240;
    /** What lies further is not listened to for hits: memory stays small however long a recording is. */
    public const HEARD_SECONDS = 3600;
    /** Seconds of a transform's window. */
    private const WINDOW_SECONDS = 0.0232;
    /** Frames between the spectra that are compared. */
    private const LAG = 2;
    /** How far below the loudest hit sound still counts: magnitudes are compared as log(1 + COMPRESSION × magnitude). */
    private const COMPRESSION = 300.0;
    private const LOW_HZ = 150.0;
    private const HIGH_HZ = 4000.0;

    /**
     * @param list<float>       $all  one value a frame
     * @param list<float>       $low  below 150 Hz
     * @param list<float>       $mid
     * @param list<float>       $high above 4 kHz
     * @param array<int, float> $odds log odds that there is a hit, by the place of a peak; none where they were not asked for
     * @param int               $hop  frames of the source from one value to the next
     * @param float             $peak largest value in the source, 0 when it is silent
     */
    private function __construct(public array $all, public array $low, public array $mid, public array $high, public array $odds, public int $hop, private int $sampleRate, public float $peak, private float $highShare)
    {
    }

    public function framesASecond(): float
    {
        return $this->sampleRate / $this->hop;
    }

    public static function of(AudioSource $source, ?OnsetCues $cues = new OnsetCues()): self
    {
        $peak = self::peak($source);
        $rate = $source->sampleRate();
        $hop = max(1, intdiv($rate, self::FRAMES_A_SECOND));
        $fft = Fft::near($rate * self::WINDOW_SECONDS);
        $size = $fft->size;
        $window = Window::hann($size);
        $scale = $peak > 0.0 ? self::COMPRESSION * 4.0 / $size / $peak * 0.5 : 0.0;
        foreach ($window as $i => $w) {
            $window[$i] = $w * $scale;
        }
        $bands = self::bands($size, $rate);
        $count = \count($bands);
        $kinds = array_map(static fn (array $band): int => $band[0] * $rate / $size < self::LOW_HZ ? 0 : ($band[0] * $rate / $size < self::HIGH_HZ ? 1 : 2), $bands);
        $cues?->over($source, $hop, $peak);
        $groups = self::groups($bands, $rate / $size);
        $silence = array_fill(0, \count(OnsetCues::EDGES_HZ), 0.0);
        $history = array_fill(0, self::LAG, array_fill(0, $count, 0.0));
        $all = $low = $mid = $high = [];
        $total = $highs = 0.0;
        $long = self::BANDS_SECONDS * $rate;
        $frames = min($source->frames(), self::HEARD_SECONDS * $rate);
        $half = intdiv($size, 2);
        for ($at = 0; $at < $frames; $at += 64 * $hop) {
            $block = $source->read($at - $half, 63 * $hop + $size);
            $mono = $block->left;
            foreach ($block->right as $i => $r) {
                $mono[$i] += $r;
            }
            for ($k = 0; $k < 64 && $at + $k * $hop < $frames; ++$k) {
                $piece = \array_slice($mono, $k * $hop, $size);
                foreach ($window as $i => $w) {
                    $piece[$i] *= $w;
                }
                $magnitudes = $fft->magnitudes($piece);
                $now = [];
                $sums = [0.0, 0.0, 0.0];
                $levels = $silence;
                $before = array_shift($history);
                foreach ($bands as $b => [$from, $to]) {
                    $sum = 1.0;
                    for ($i = $from; $i < $to; ++$i) {
                        $sum += $magnitudes[$i];
                    }
                    $now[] = $level = log($sum);
                    [$group, $share] = $groups[$b];
                    $levels[$group] += $level * $share;
                    $rise = $level - $before[$b];
                    if ($rise > 0.0) {
                        $sums[$kinds[$b]] += $rise;
                    }
                }
                // Against the loudest neighbour, so that noise that merely wavers does not count as a rise.
                $wide = [];
                foreach ($now as $b => $level) {
                    $l = $now[$b - 1] ?? 0.0;
                    $r = $now[$b + 1] ?? 0.0;
                    $wide[] = $l > $level ? ($l > $r ? $l : $r) : ($r > $level ? $r : $level);
                }
                $history[] = $wide;
                $all[] = ($sums[0] + $sums[1] + $sums[2]) / $count;
                $high[] = $sums[2];
                $cues?->add(($sums[0] + $sums[1] + $sums[2]) / $count, $sums[2], array_values($levels));
                $total += $sums[0] + $sums[1] + $sums[2];
                $highs += $sums[2];
                if ($at < $long) {
                    $low[] = $sums[0];
                    $mid[] = $sums[1];
                }
            }
        }

        $cues?->end();

        return new self($all, $low, $mid, $high, $cues->odds ?? [], $hop, $rate, $peak, $total > 0.0 ? $highs / $total : 0.0);
    }

    /** How much of all that becomes louder lies in the highs, 0 to 1: much in drums, little in chords. */
    public function highShare(): float
    {
        return $this->highShare;
    }

    private static function peak(AudioSource $source): float
    {
        $peak = 0.0;
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += 65536) {
            $peak = max($peak, $source->read($at, min(65536, $frames - $at))->peak());
        }

        return $peak;
    }

    /**
     * @param list<array{int, int}> $bands
     *
     * @return list<array{int, float}> for each band the cue it belongs to, and its share in it
     */
    private static function groups(array $bands, float $hzABin): array
    {
        $of = array_map(static fn (array $band): int => \count(array_filter(OnsetCues::EDGES_HZ, static fn (int $hz): bool => $hz <= $band[0] * $hzABin)) - 1, $bands);
        $sizes = array_count_values($of);

        return array_map(static fn (int $group): array => [$group, 1.0 / $sizes[$group]], $of);
    }

    /** @return list<array{int, int}> bins from and to of each band */
    private static function bands(int $size, int $rate): array
    {
        $bands = [];
        $top = min(intdiv($size, 2) + 1, (int) ceil(16000.0 * $size / $rate));
        for ($from = 1; $from < $top; $from = $to) {
            $to = min($top, max($from + 1, (int) round($from * 1.26)));
            $bands[] = [$from, $to];
        }

        return $bands;
    }
}
