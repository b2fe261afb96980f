<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * A sound as a whole, in numbers: how its loudness comes and goes, and what its spectrum is like on the way.
 * Source: G. Peeters, "A large set of audio features for sound description" (CUIDADO, Ircam 2004).
 */
final readonly class SoundShape
{
    private const STEP_SECONDS = 0.01;
    /** What lies this far below the loudest is its end, in dB. */
    private const END_DB = -40.0;
    /** A sound begins anew where it gets this much louder, in dB, and is no softer than the second number below its loudest. */
    private const RISE_DB = 7.0;
    private const HEARD_DB = -26.0;
    private const SMOOTH = 3;
    private const AWAY_DB = -20.0;
    /** Places at which its spectrum is looked at, as parts of its length. */
    private const PLACES = [0.06, 0.18, 0.4, 0.7];
    private const EDGES_HZ = [60, 120, 200, 300, 430, 600, 850, 1200, 1700, 2400, 3400, 5000, 8000, 13000];
    private const FFT_SECONDS = 0.046;

    /**
     * @param list<float> $levelsDb against its loudest, every STEP_SECONDS
     * @param int         $first    step at which it begins, and at which it has ended
     * @param float       $peak     largest value
     */
    private function __construct(private AudioSource $source, private array $levelsDb, private int $first, private int $last, public float $peak)
    {
    }

    public static function of(AudioSource $source): self
    {
        $step = max(1, (int) round(self::STEP_SECONDS * $source->sampleRate()));
        $power = [];
        $peak = 0.0;
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += 256 * $step) {
            $block = $source->read($at, min(256 * $step, $frames - $at));
            $peak = max($peak, $block->peak());
            for ($i = 0, $n = $block->frames(); $i < $n; $i += $step) {
                $sum = 0.0;
                for ($k = $i, $end = min($n, $i + $step); $k < $end; ++$k) {
                    $x = $block->left[$k] + $block->right[$k];
                    $sum += $x * $x;
                }
                $power[] = $sum / ($end - $i);
            }
        }
        $loudest = max([1e-12, ...$power]);
        $levels = array_map(static fn (float $p): float => 10.0 * log10($p / $loudest + 1e-9), $power);
        $heard = array_keys(array_filter($levels, static fn (float $db): bool => $db > self::END_DB));

        return new self($source, $levels, $heard[0] ?? 0, ($heard[\count($heard) - 1] ?? 0) + 1, $peak);
    }

    /** Frame at which it begins. */
    public function start(): int
    {
        return (int) ($this->first * self::STEP_SECONDS * $this->source->sampleRate());
    }

    /** Seconds it lasts. */
    public function seconds(): float
    {
        return ($this->last - $this->first) * self::STEP_SECONDS;
    }

    /** Whether it has died away by its end. */
    public function diesAway(): bool
    {
        $end = \array_slice($this->levelsDb, -max(1, intdiv(\count($this->levelsDb), 10)));

        return array_sum($end) / \count($end) < self::AWAY_DB;
    }

    /** How often it begins, or begins anew: a tail that dies away, however roughly, does not. */
    public function attacks(): int
    {
        $smooth = [];
        for ($i = $this->first; $i < $this->last; ++$i) {
            $part = \array_slice($this->levelsDb, max($this->first, $i - self::SMOOTH + 1), min(self::SMOOTH, $i - $this->first + 1));
            $smooth[] = array_sum($part) / \count($part);
        }
        $attacks = 0;
        $lowest = $before = -60.0;
        $rises = false;
        foreach ($smooth as $level) {
            // What it gets louder by in one go is one beginning.
            $rises = $rises && $level >= $before - 0.5;
            $lowest = $rises ? $level : min($lowest, $level);
            if ($level > self::HEARD_DB && $level > $lowest + self::RISE_DB) {
                ++$attacks;
                $lowest = $level;
                $rises = true;
            }
            $before = $level;
        }

        return $attacks;
    }

    /** @return list<float> */
    public function features(?PitchGuess $pitch): array
    {
        $length = max(1, $this->last - $this->first);
        $loudest = (int) array_search(max([-90.0, ...$this->levelsDb]), $this->levelsDb, true) - $this->first;
        $until = function (float $db) use ($loudest): int {
            for ($i = $this->first + $loudest; $i < $this->last && $this->levelsDb[$i] > $db; ++$i) {
            }

            return $i - $this->first - $loudest;
        };
        $out = [log($length), log(1.0 + $loudest), log(1.0 + $until(-6.0)), log(1.0 + $until(-12.0)), log(1.0 + $until(-20.0)), log(1.0 + $until(-30.0))];
        $rough = 0.0;
        for ($i = $this->first + 1; $i < $this->last; ++$i) {
            $rough += abs($this->levelsDb[$i] - $this->levelsDb[$i - 1]);
        }
        $out[] = $rough / $length;
        $out[] = log(1.0 + $this->attacks());
        array_push($out, $pitch->confidence ?? 0.0, ($pitch->confidence ?? 0.0) > 0.5 ? ($pitch->note ?? 60.0) / 12.0 - 5.0 : 0.0, ($pitch->note ?? 60.0) < 50.0 ? $pitch->confidence ?? 0.0 : 0.0);
        $rate = $this->source->sampleRate();
        $fft = Fft::near($rate * self::FFT_SECONDS);
        $window = Window::hann($fft->size);
        foreach (self::PLACES as $k => $place) {
            $at = (int) (($this->first + $place * $length) * self::STEP_SECONDS * $rate);
            [$summary, $bands] = self::spectrum($this->source, $at, $fft, $window, (float) $rate);
            array_push($out, ...$summary, ...0 === $k || 2 === $k ? $bands : []);
        }

        return $out;
    }

    /**
     * @param list<float> $window
     *
     * @return array{array{float, float, float, float}, list<float>} centroid and spread in octaves, flatness, and crest; and logarithms of the bands' shares
     */
    private static function spectrum(AudioSource $source, int $at, Fft $fft, array $window, float $rate): array
    {
        $block = $source->read(max(0, $at - intdiv($fft->size, 4)), $fft->size);
        $signal = array_map(static fn (float $l, float $r, float $w): float => ($l + $r) * $w, $block->left, $block->right, $window);
        [$re, $im] = $fft->forward($signal);
        $edges = array_map(static fn (int $hz): int => max(1, min(\count($re) - 1, (int) round($hz * $fft->size / $rate))), self::EDGES_HZ);
        $bands = array_fill(0, \count($edges) + 1, 0.0);
        $sum = $logs = $first = $second = $most = 0.0;
        $band = 0;
        for ($k = 1, $n = \count($re); $k < $n; ++$k) {
            $p = $re[$k] * $re[$k] + $im[$k] * $im[$k] + 1e-12;
            while ($band < \count($edges) && $k >= $edges[$band]) {
                ++$band;
            }
            $bands[$band] += $p;
            $octave = log($k * $rate / $fft->size / 20.0, 2);
            $sum += $p;
            $first += $p * $octave;
            $second += $p * $octave * $octave;
            $logs += log($p);
            $most = max($most, $p);
        }
        $centre = $first / $sum;

        return [
            [$centre, sqrt(max(0.0, $second / $sum - $centre * $centre)), $logs / \count($re) - log($sum / \count($re)), log($most / $sum)],
            array_map(static fn (float $p): float => log($p / $sum + 1e-5), array_values($bands)),
        ];
    }
}
