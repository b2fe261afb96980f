<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/**
 * Feed-forward compressor with linked sides. Every sixteen frames the level is the highest peak of the last 10 ms (less
 * where the release is short), so that a low tone is not let go between its peaks; the reduction it calls for is followed
 * in decibels with attack and release, and a straight line leads to its gain over the sixteen frames that follow (0.4 ms
 * late, which is what lets everything run in one pass). Attack and release are the times to 63 % of the way, that
 * delay included; an attack below 1 ms is as fast as the delay allows. Another sound may steer it: then its gain is what that
 * one would be given. Within its knee the ratio sets in by and by. The result lies on the grid.
 * Source: Giannoulis, Massberg and Reiss, "Digital dynamic range compressor design" (JAES 2012): smooth, branching, log domain.
 */
final readonly class Compressor implements Insert
{
    /** Half a period of 50 Hz, in which a tone has one peak. */
    private const HOLD_SECONDS = 0.01;
    /** Peaks that are remembered besides the newest. */
    private const PEAKS = 7;

    private float $threshold;
    private float $low;
    private float $half;
    private float $slope;
    public float $makeup;
    private float $attack;
    private float $release;
    /** Steps of STEP frames from one remembered peak to the next. */
    private int $steps;

    public function __construct(CompressorSettings $settings, float $sampleRate)
    {
        $this->threshold = Decibels::toGain($settings->thresholdDb) ** 2;
        $this->half = 0.05 * log(10.0) * $settings->kneeDb;
        $this->low = $this->threshold * exp(-$this->half);
        $this->slope = 0.5 * (1.0 - 1.0 / $settings->ratio);
        // On the grid of states, so that silence brings it to rest again.
        [$this->makeup] = Grid::state([Decibels::toGain($settings->makeupDb)]);
        $perMs = $sampleRate / 1000.0 / GainCurve::STEP;
        $held = min(self::HOLD_SECONDS * 1000.0, 0.5 * $settings->releaseMs) * $perMs;
        $this->steps = max(1, (int) ceil($held / self::PEAKS - 0.01));
        $this->attack = self::share($settings->attackMs * $perMs - 1.0);
        $this->release = self::share($settings->releaseMs * $perMs - 1.0 - self::PEAKS * $this->steps - 0.5 * ($this->steps - 1));
    }

    /** @return array{float, float, float, float, float, int, float, float} attack and release as shares of the way gone in a step; threshold as a power; nepers of reduction for each of the power above it; make-up; steps a remembered peak; power at which the knee begins, and half its width in nepers of power */
    public function numbers(): array
    {
        return [$this->attack, $this->release, $this->threshold, $this->slope, $this->makeup, $this->steps, $this->low, $this->half];
    }

    /** Reduction in nepers, gain and where it is going; then the power of the newest peak, its age in steps, and the peaks before it. */
    public function rest(): InsertState
    {
        return new InsertState([0.0, $this->makeup, $this->makeup, 0.0, 0.0, ...array_fill(0, self::PEAKS, 0.0)]);
    }

    /**
     * @param list<float> $state
     *
     * @return array{float, float, float, float, int, float, float, float, float, float, float, float} what rest() has, after $count values of filters
     */
    public static function follower(array $state, int $count): array
    {
        $f = \array_slice($state, $count);

        return [$f[0], $f[1], $f[2], $f[3], (int) $f[4], $f[5], $f[6], $f[7], $f[8], $f[9], $f[10], $f[11]];
    }

    /** @param float $steps in which 63 % of the way are gone */
    private static function share(float $steps): float
    {
        return 1.0 - exp(-1.0 / max(0.25, $steps));
    }

    /** The gain given to silence that follows silence. */
    public function restingCurve(int $frames): GainCurve
    {
        return new GainCurve($this->makeup, array_fill(0, (int) ceil($frames / GainCurve::STEP), $this->makeup), $this->makeup);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$sound, $after, $curve] = $this->through([], $key ?? $in, $state->numbers);

        return [null === $key ? $sound : Gain::along($in, $curve), new InsertState($after), $curve];
    }

    /**
     * Behind up to two filter sections in the same loop.
     *
     * @param list<Biquad> $sections at most two
     * @param list<float>  $state    four values a section (left s1 s2, right s1 s2), then as rest() has them
     *
     * @return array{StereoBlock, list<float>, GainCurve} the sound, the state after it, the gain it was given
     */
    public function through(array $sections, StereoBlock $block, array $state): array
    {
        $count = 4 * \count($sections);
        $filters = [...\array_slice($state, 0, $count), ...array_fill(0, 8 - $count, 0.0)];
        $follower = self::follower($state, $count);
        $gain = $follower[1];
        [$a, $b] = [$sections[0] ?? Biquad::through(), $sections[1] ?? Biquad::through()];
        $numbers = [Grid::SOUND, 1.0 / GainCurve::STEP, ...$this->numbers(), ...$follower, ...$a->coefficients(), ...$b->coefficients()];
        if ($block->left === $block->right && [$filters[0], $filters[1], $filters[4], $filters[5]] === [$filters[2], $filters[3], $filters[6], $filters[7]]) {
            [$left, $filters, $follower, $targets] = $this->mono($block->left, GainCurve::STEP, ...$numbers, ...[$filters[0], $filters[1], $filters[4], $filters[5]]);
            $right = $left;
        } else {
            [$left, $right, $filters, $follower, $targets] = $this->stereo($block->left, $block->right, GainCurve::STEP, ...$numbers, ...$filters);
        }

        return [new StereoBlock($left, $right), Grid::state([...\array_slice($filters, 0, $count), ...$follower]), new GainCurve($gain, $targets, $this->makeup)];
    }

    /**
     * The numbers come as parameters and every value is checked to be one: the compiler keeps in registers only what it knows the type of.
     *
     * @param list<float> $left
     *
     * @return array{list<float>, list<float>, list<float>, list<float>} sound, state of the filters as of both sides, of the follower, and its gains
     */
    private function mono(
        array $left, int $step, float $grid, float $perStep, float $attack, float $release, float $threshold, float $ratio, float $makeup, int $steps, float $low, float $half,
        float $depth, float $gain, float $target, float $newest, int $age,
        float $m1, float $m2, float $m3, float $m4, float $m5, float $m6, float $m7,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
        float $s1, float $s2, float $t1, float $t2,
    ): array {
        $targets = [];
        $held = max($m1, $m2, $m3, $m4, $m5, $m6, $m7);
        $known = -1.0;
        $tiny = Biquad::TINY;
        $wanted = 0.0;
        for ($at = 0, $frames = \count($left); $at < $frames; $at += $step) {
            $end = $at + $step < $frames ? $at + $step : $frames;
            $power2 = 0.0;
            $slope = ($target - $gain) * $perStep;
            $targets[] = $target;
            for ($i = $at; $i < $end; ++$i) {
                $x = $left[$i];
                if (!\is_float($x)) {
                    throw new \TypeError('Sound is floats.');
                }
                $y = $b0 * $x + $s1;
                $s1 = $s2 + $b1 * $x - $a1 * $y;
                $s2 = $b2 * $x - $a2 * $y + $tiny;
                $z = $d0 * $y + $t1;
                $t1 = $t2 + $d1 * $y - $c1 * $z;
                $t2 = $d2 * $y - $c2 * $z + $tiny;
                $gain += $slope;
                $left[$i] = ($z * $gain + $grid) - $grid;
                $z2 = $z * $z;
                if ($z2 > $power2) {
                    $power2 = $z2;
                }
            }
            if ($power2 > $newest) {
                $newest = $power2;
            }
            $level = $newest > $held ? $newest : $held;
            if ($level !== $known) {
                $known = $level;
                $over = $level > $low ? log($level / $threshold) : 0.0 - $half;
                $wanted = $over >= $half ? $over * $ratio : $ratio * ($over + $half) * ($over + $half) / (4.0 * $half);
            }
            $depth += ($wanted - $depth) * ($wanted > $depth ? $attack : $release);
            $gain = $target;
            if ($depth > 1e-9) {
                // exp(-depth) by its series, for a 64th of it: a call would cost more than all else here.
                $x = $depth * 0.015625;
                $x = 1.0 - $x * (1.0 - $x * (0.5 - $x * (0.16666666666666666 - $x * 0.041666666666666664)));
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $target = $x * $makeup;
            } else {
                $depth = 0.0;
                $target = $makeup;
            }
            if ($level > 1e-20 && ++$age === $steps) {
                $age = 0;
                $held = $newest;
                $newest = 0.0;
                $m1 = $m2;
                $m2 = $m3;
                $m3 = $m4;
                $m4 = $m5;
                $m5 = $m6;
                $m6 = $m7;
                $m7 = $held;
                if ($m1 > $held) {
                    $held = $m1;
                }
                if ($m2 > $held) {
                    $held = $m2;
                }
                if ($m3 > $held) {
                    $held = $m3;
                }
                if ($m4 > $held) {
                    $held = $m4;
                }
                if ($m5 > $held) {
                    $held = $m5;
                }
                if ($m6 > $held) {
                    $held = $m6;
                }
            }
        }

        return [array_values($left), [$s1, $s2, $s1, $s2, $t1, $t2, $t1, $t2], [$depth, $gain, $target, $newest, (float) $age, $m1, $m2, $m3, $m4, $m5, $m6, $m7], $targets];
    }

    /**
     * Both sides by turns: the processor works on one while it waits for the other.
     *
     * @param list<float> $left
     * @param list<float> $right
     *
     * @return array{list<float>, list<float>, list<float>, list<float>, list<float>} as mono(), with two sides
     */
    private function stereo(
        array $left, array $right, int $step, float $grid, float $perStep, float $attack, float $release, float $threshold, float $ratio, float $makeup, int $steps, float $low, float $half,
        float $depth, float $gain, float $target, float $newest, int $age,
        float $m1, float $m2, float $m3, float $m4, float $m5, float $m6, float $m7,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
        float $s1, float $s2, float $u1, float $u2, float $t1, float $t2, float $v1, float $v2,
    ): array {
        $targets = [];
        $held = max($m1, $m2, $m3, $m4, $m5, $m6, $m7);
        $known = -1.0;
        $tiny = Biquad::TINY;
        $wanted = 0.0;
        for ($at = 0, $frames = \count($left); $at < $frames; $at += $step) {
            $end = $at + $step < $frames ? $at + $step : $frames;
            $power2 = 0.0;
            $slope = ($target - $gain) * $perStep;
            $targets[] = $target;
            for ($i = $at; $i < $end; ++$i) {
                $x = $left[$i];
                $z = $right[$i];
                if (!\is_float($x) || !\is_float($z)) {
                    throw new \TypeError('Sound is floats.');
                }
                $y = $b0 * $x + $s1;
                $w = $b0 * $z + $u1;
                $s1 = $s2 + $b1 * $x - $a1 * $y;
                $u1 = $u2 + $b1 * $z - $a1 * $w;
                $s2 = $b2 * $x - $a2 * $y + $tiny;
                $u2 = $b2 * $z - $a2 * $w + $tiny;
                $p = $d0 * $y + $t1;
                $q = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $p;
                $v1 = $v2 + $d1 * $w - $c1 * $q;
                $t2 = $d2 * $y - $c2 * $p + $tiny;
                $v2 = $d2 * $w - $c2 * $q + $tiny;
                $gain += $slope;
                $left[$i] = ($p * $gain + $grid) - $grid;
                $right[$i] = ($q * $gain + $grid) - $grid;
                $p2 = $p * $p;
                $q2 = $q * $q;
                if ($p2 > $power2) {
                    $power2 = $p2;
                }
                if ($q2 > $power2) {
                    $power2 = $q2;
                }
            }
            if ($power2 > $newest) {
                $newest = $power2;
            }
            $level = $newest > $held ? $newest : $held;
            if ($level !== $known) {
                $known = $level;
                $over = $level > $low ? log($level / $threshold) : 0.0 - $half;
                $wanted = $over >= $half ? $over * $ratio : $ratio * ($over + $half) * ($over + $half) / (4.0 * $half);
            }
            $depth += ($wanted - $depth) * ($wanted > $depth ? $attack : $release);
            $gain = $target;
            if ($depth > 1e-9) {
                // exp(-depth) by its series, for a 64th of it: a call would cost more than all else here.
                $x = $depth * 0.015625;
                $x = 1.0 - $x * (1.0 - $x * (0.5 - $x * (0.16666666666666666 - $x * 0.041666666666666664)));
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $x *= $x;
                $target = $x * $makeup;
            } else {
                $depth = 0.0;
                $target = $makeup;
            }
            if ($level > 1e-20 && ++$age === $steps) {
                $age = 0;
                $held = $newest;
                $newest = 0.0;
                $m1 = $m2;
                $m2 = $m3;
                $m3 = $m4;
                $m4 = $m5;
                $m5 = $m6;
                $m6 = $m7;
                $m7 = $held;
                if ($m1 > $held) {
                    $held = $m1;
                }
                if ($m2 > $held) {
                    $held = $m2;
                }
                if ($m3 > $held) {
                    $held = $m3;
                }
                if ($m4 > $held) {
                    $held = $m4;
                }
                if ($m5 > $held) {
                    $held = $m5;
                }
                if ($m6 > $held) {
                    $held = $m6;
                }
            }
        }

        return [array_values($left), array_values($right), [$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2], [$depth, $gain, $target, $newest, (float) $age, $m1, $m2, $m3, $m4, $m5, $m6, $m7], $targets];
    }
}
