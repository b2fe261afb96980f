<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/**
 * Feed-forward compressor with linked sides: every sixteen frames their peak is followed with attack and
 * release, and a gain worked out to which a straight line leads over the sixteen that follow (0.4 ms late,
 * which is what lets everything run in one pass). Up to two equalizer sections run in the same
 * loop in front of it, since passing arrays along costs as much as the arithmetic. The result lies on the grid.
 * Source: Giannoulis, Massberg and Reiss, "Digital dynamic range compressor design" (JAES 2012).
 */
final readonly class Compressor
{
    private float $threshold;
    private float $power;
    public float $makeup;
    private float $attack;
    private float $release;

    public function __construct(CompressorSettings $settings, float $sampleRate)
    {
        $this->threshold = Decibels::toGain($settings->thresholdDb);
        $this->power = 1.0 / $settings->ratio - 1.0;
        $this->makeup = Decibels::toGain($settings->makeupDb);
        $this->attack = 1.0 - exp(-1000.0 * GainCurve::STEP / ($settings->attackMs * $sampleRate));
        $this->release = 1.0 - exp(-1000.0 * GainCurve::STEP / ($settings->releaseMs * $sampleRate));
    }

    /** @return array{float, float, float, float, float} attack and release as shares of the way gone in a step, threshold, exponent of what is above it, make-up */
    public function numbers(): array
    {
        return [$this->attack, $this->release, $this->threshold, $this->power, $this->makeup];
    }

    /** @return list<float> follower, gain and where it is going, at rest */
    public function rest(): array
    {
        return [0.0, $this->makeup, $this->makeup];
    }

    /** The gain given to silence that follows silence. */
    public function restingCurve(int $frames): GainCurve
    {
        return new GainCurve($this->makeup, array_fill(0, (int) ceil($frames / GainCurve::STEP), $this->makeup), $this->makeup);
    }

    /**
     * @param list<float>  $state    four values a section (left s1 s2, right s1 s2), then follower, gain and the gain it is going to
     * @param list<Biquad> $sections at most two
     *
     * @return array{StereoBlock, list<float>, GainCurve} the sound, the state after it, the gain it was given
     */
    public function process(StereoBlock $block, array $state, array $sections = []): array
    {
        $count = 4 * \count($sections);
        $filters = [...\array_slice($state, 0, $count), ...array_fill(0, 8 - $count, 0.0)];
        [$envelope, $gain, $target] = \array_slice($state, $count);
        [$a, $b] = [$sections[0] ?? Biquad::through(), $sections[1] ?? Biquad::through()];
        $numbers = [Grid::SOUND, 1.0 / GainCurve::STEP, ...$this->numbers(), $envelope, $gain, $target, ...$a->coefficients(), ...$b->coefficients()];
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
        array $left, int $step, float $grid, float $perStep, float $attack, float $release, float $threshold, float $power, float $makeup,
        float $envelope, float $gain, float $target,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
        float $s1, float $s2, float $t1, float $t2,
    ): array {
        $targets = [];
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
                $s2 = $b2 * $x - $a2 * $y;
                $z = $d0 * $y + $t1;
                $t1 = $t2 + $d1 * $y - $c1 * $z;
                $t2 = $d2 * $y - $c2 * $z;
                $gain += $slope;
                $left[$i] = ($z * $gain + $grid) - $grid;
                $z2 = $z * $z;
                if ($z2 > $power2) {
                    $power2 = $z2;
                }
            }
            $peak = sqrt($power2);
            $envelope += ($peak - $envelope) * ($peak > $envelope ? $attack : $release);
            $gain = $target;
            $target = $envelope > $threshold ? $makeup * ($envelope / $threshold) ** $power : $makeup;
        }

        return [array_values($left), [$s1, $s2, $s1, $s2, $t1, $t2, $t1, $t2], [$envelope, $gain, $target], $targets];
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
        array $left, array $right, int $step, float $grid, float $perStep, float $attack, float $release, float $threshold, float $power, float $makeup,
        float $envelope, float $gain, float $target,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
        float $s1, float $s2, float $u1, float $u2, float $t1, float $t2, float $v1, float $v2,
    ): array {
        $targets = [];
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
                $s2 = $b2 * $x - $a2 * $y;
                $u2 = $b2 * $z - $a2 * $w;
                $p = $d0 * $y + $t1;
                $q = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $p;
                $v1 = $v2 + $d1 * $w - $c1 * $q;
                $t2 = $d2 * $y - $c2 * $p;
                $v2 = $d2 * $w - $c2 * $q;
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
            $peak = sqrt($power2);
            $envelope += ($peak - $envelope) * ($peak > $envelope ? $attack : $release);
            $gain = $target;
            $target = $envelope > $threshold ? $makeup * ($envelope / $threshold) ** $power : $makeup;
        }

        return [array_values($left), array_values($right), [$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2], [$envelope, $gain, $target], $targets];
    }
}
