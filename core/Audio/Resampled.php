<?php

namespace Pestle\Core\Audio;

use Pestle\Core\Signal\Window;

/**
 * A source heard at another rate or pitch: windowed-sinc interpolation with one filter
 * a phase, so that any frame can be read on its own and is always the same.
 *
 * The speed is kept as a fraction (error below 0.002 cents). When the sound is sped up, the
 * filter's cut-off comes down with it, so that nothing folds back.
 * Source: J. O. Smith, "Digital audio resampling"; window by Kaiser, beta 11 (stop band below -110 dB).
 */
final class Resampled implements AudioSource
{
    private const HALF_TAPS = 32;
    private const MAX_PHASES = 1024;
    private const BETA = 11.0;

    private readonly int $up;
    private readonly int $down;
    private readonly int $reach;
    /** @var array<int, list<float>> */
    private array $phases = [];

    /** @param float $speed source frames a frame heard; 2 is an octave up */
    public function __construct(private readonly AudioSource $source, float $speed, private readonly int $sampleRate)
    {
        [$this->down, $this->up] = self::fraction($speed);
        $this->reach = (int) ceil(self::HALF_TAPS * max(1.0, $this->down / $this->up));
    }

    public static function toRate(AudioSource $source, int $sampleRate, float $pitchRatio = 1.0): AudioSource
    {
        $speed = $pitchRatio * $source->sampleRate() / $sampleRate;

        return abs($speed - 1.0) < 1e-9 ? $source : new self($source, $speed, $sampleRate);
    }

    public function sampleRate(): int
    {
        return $this->sampleRate;
    }

    public function frames(): int
    {
        return (int) ceil($this->source->frames() * $this->up / $this->down);
    }

    public function read(int $start, int $count): StereoBlock
    {
        if ($count < 1) {
            return StereoBlock::silence(0);
        }
        $first = self::floorDivide($start * $this->down, $this->up);
        $last = self::floorDivide(($start + $count - 1) * $this->down, $this->up);
        $from = $first - $this->reach + 1;
        $block = $this->source->read($from, $last + $this->reach - $from + 1);
        $same = $block->left === $block->right;
        [$inL, $inR] = [$block->left, $block->right];
        $left = $right = [];
        $length = 2 * $this->reach;
        for ($n = $start, $end = $start + $count; $n < $end; ++$n) {
            $position = $n * $this->down;
            $index = self::floorDivide($position, $this->up);
            $phase = $position - $index * $this->up;
            $taps = $this->phases[$phase] ??= $this->taps($phase);
            $at = $index - $this->reach + 1 - $from;
            $l = $r = 0.0;
            if ($same) {
                for ($k = 0; $k < $length; ++$k) {
                    $l = $taps[$k] * $inL[$at + $k] + $l;
                }
                $left[] = $l;
            } else {
                for ($k = 0; $k < $length; ++$k) {
                    $l = $taps[$k] * $inL[$at + $k] + $l;
                    $r = $taps[$k] * $inR[$at + $k] + $r;
                }
                $left[] = $l;
                $right[] = $r;
            }
        }

        return new StereoBlock($left, $same ? $left : $right);
    }

    /** @return list<float> filter for a place $phase/up behind a source frame; they add up to 1 */
    private function taps(int $phase): array
    {
        $cutoff = min(1.0, $this->up / $this->down);
        $half = self::HALF_TAPS / $cutoff;
        $offset = $phase / $this->up;
        $taps = [];
        $sum = 0.0;
        for ($k = -$this->reach + 1; $k <= $this->reach; ++$k) {
            $x = $k - $offset;
            $t = \M_PI * $x * $cutoff;
            $tap = (abs($t) < 1e-12 ? 1.0 : sin($t) / $t) * Window::kaiser($x / $half, self::BETA);
            $taps[] = $tap;
            $sum += $tap;
        }
        foreach ($taps as $i => $tap) {
            $taps[$i] = $tap / $sum;
        }

        return $taps;
    }

    /**
     * The nearest fraction with a denominator of at most 1024, by continued fractions.
     *
     * @return array{int, int} numerator, denominator
     */
    private static function fraction(float $value): array
    {
        if (!($value > 0.0) || $value > 1000.0) {
            throw new \InvalidArgumentException('The speed of a sample must be above 0 and at most 1000.');
        }
        [$n0, $d0, $n1, $d1] = [0, 1, 1, 0];
        $rest = $value;
        for ($i = 0; $i < 32; ++$i) {
            $whole = (int) floor($rest);
            if ($whole * $d1 + $d0 > self::MAX_PHASES) {
                break;
            }
            [$n0, $d0, $n1, $d1] = [$n1, $d1, $whole * $n1 + $n0, $whole * $d1 + $d0];
            if ($rest - $whole < 1e-9) {
                break;
            }
            $rest = 1.0 / ($rest - $whole);
        }

        return [max(1, $n1), max(1, $d1)];
    }

    private static function floorDivide(int $a, int $b): int
    {
        $q = intdiv($a, $b);

        return $a < 0 && $q * $b !== $a ? $q - 1 : $q;
    }
}
