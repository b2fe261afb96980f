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

    /**
     * @param list<float>  $state    four values a section (left s1 s2, right s1 s2), then follower, gain and the gain it is going to
     * @param list<Biquad> $sections at most two
     *
     * @return array{StereoBlock, list<float>, GainCurve} the sound, the state after it, the gain it was given
     */
    public function process(StereoBlock $block, array $state, array $sections = []): array
    {
        $a = $sections[0] ?? Biquad::through();
        $b = $sections[1] ?? Biquad::through();
        [$b0, $b1, $b2, $a1, $a2] = [$a->b0, $a->b1, $a->b2, $a->a1, $a->a2];
        [$d0, $d1, $d2, $c1, $c2] = [$b->b0, $b->b1, $b->b2, $b->a1, $b->a2];
        $count = 4 * \count($sections);
        [$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2] = [...\array_slice($state, 0, $count), ...array_fill(0, 8 - $count, 0.0)];
        [$envelope, $gain, $target] = \array_slice($state, $count);
        [$attack, $release, $threshold, $power, $makeup] = $this->numbers();
        $start = $gain;
        $targets = [];
        $grid = Grid::SOUND;
        [$left, $right] = [$block->left, $block->right];
        $same = $left === $right && $s1 === $u1 && $s2 === $u2 && $t1 === $v1 && $t2 === $v2;
        for ($at = 0, $frames = \count($left); $at < $frames; $at += GainCurve::STEP) {
            $end = $at + GainCurve::STEP < $frames ? $at + GainCurve::STEP : $frames;
            $power2 = 0.0;
            $slope = ($target - $gain) * (1.0 / GainCurve::STEP);
            $targets[] = $target;
            if ($same) {
                for ($i = $at; $i < $end; ++$i) {
                    $x = $left[$i];
                    $y = $b0 * $x + $s1;
                    $s1 = $s2 + $b1 * $x - $a1 * $y;
                    $s2 = $b2 * $x - $a2 * $y;
                    $x = $d0 * $y + $t1;
                    $t1 = $t2 + $d1 * $y - $c1 * $x;
                    $t2 = $d2 * $y - $c2 * $x;
                    $gain += $slope;
                    $left[$i] = ($x * $gain + $grid) - $grid;
                    $x *= $x;
                    if ($x > $power2) {
                        $power2 = $x;
                    }
                }
            } else {
                // Both sides by turns: the processor works on one while it waits for the other.
                for ($i = $at; $i < $end; ++$i) {
                    $x = $left[$i];
                    $z = $right[$i];
                    $y = $b0 * $x + $s1;
                    $w = $b0 * $z + $u1;
                    $s1 = $s2 + $b1 * $x - $a1 * $y;
                    $u1 = $u2 + $b1 * $z - $a1 * $w;
                    $s2 = $b2 * $x - $a2 * $y;
                    $u2 = $b2 * $z - $a2 * $w;
                    $x = $d0 * $y + $t1;
                    $z = $d0 * $w + $v1;
                    $t1 = $t2 + $d1 * $y - $c1 * $x;
                    $v1 = $v2 + $d1 * $w - $c1 * $z;
                    $t2 = $d2 * $y - $c2 * $x;
                    $v2 = $d2 * $w - $c2 * $z;
                    $gain += $slope;
                    $left[$i] = ($x * $gain + $grid) - $grid;
                    $right[$i] = ($z * $gain + $grid) - $grid;
                    $x *= $x;
                    $z *= $z;
                    if ($x > $power2) {
                        $power2 = $x;
                    }
                    if ($z > $power2) {
                        $power2 = $z;
                    }
                }
            }
            $level = sqrt($power2);
            $envelope += ($level - $envelope) * ($level > $envelope ? $attack : $release);
            $gain = $target;
            $target = $envelope > $threshold ? $makeup * ($envelope / $threshold) ** $power : $makeup;
        }
        if ($same) {
            [$right, $u1, $u2, $v1, $v2] = [$left, $s1, $s2, $t1, $t2];
        }
        $left = array_values($left);
        $filters = \array_slice([$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2], 0, $count);

        return [new StereoBlock($left, $same ? $left : array_values($right)), Grid::state([...$filters, $envelope, $gain, $target]), new GainCurve($start, $targets, $makeup)];
    }
}
