<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\Unpacked;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Grid;

/**
 * A sum of recordings, each through two equalizer sections, a compressor and its fader, from the stored
 * integers to the sum in one loop: arrays between the stages cost more than all their arithmetic.
 * Equal to the bit to what Equalizer, Compressor and Render\Gain make of the same one after the other.
 */
final class RecordingSum
{
    /** A sum is as long as a multiple of this. */
    public const FRAMES = Unpacked::WORD_BYTES / 4;
    /** Words of two frames between two gains. */
    private const STEP = GainCurve::STEP / 2;
    /** @var list<float> */
    private array $left;
    /** @var list<float> */
    private array $right;

    public function __construct(int $frames)
    {
        $this->left = $this->right = array_fill(0, $frames, 0.0);
    }

    public function block(): StereoBlock
    {
        return new StereoBlock($this->left, $this->right);
    }

    /**
     * @param string                            $bytes    as PcmFile::stereo16(), as long as the sum
     * @param array{float, float, float, float} $levels   left and right of the recording, then of the fader
     * @param list<Biquad>                      $sections at most two
     * @param list<float>                       $state    as Compressor::process() has it
     *
     * @return array{list<float>, GainCurve} the state after it and the gain the compressor gave
     */
    public function add(string $bytes, array $levels, array $sections, Compressor $compressor, array $state): array
    {
        $count = 4 * \count($sections);
        $filters = [...\array_slice($state, 0, $count), ...array_fill(0, 8 - $count, 0.0)];
        $follower = Compressor::follower($state, $count);
        $gain = $follower[1];
        [$a, $b] = [$sections[0] ?? Biquad::through(), $sections[1] ?? Biquad::through()];
        [$filters, $after, $targets] = $this->run(
            $bytes, Grid::SOUND, ...$levels, ...$compressor->numbers(), ...$follower, ...$filters, ...$a->coefficients(), ...$b->coefficients(),
        );

        return [Grid::state([...\array_slice($filters, 0, $count), ...$after]), new GainCurve($gain, $targets, $compressor->makeup)];
    }

    /**
     * All numbers come as parameters and every word is checked to be one, as the compiler keeps in registers only what it knows the type of.
     *
     * @return array{list<float>, list<float>, list<float>} state of the filters, of the compressor, and its gains
     */
    private function run(
        string $bytes, float $grid, float $levelLeft, float $levelRight, float $faderLeft, float $faderRight,
        float $attack, float $release, float $threshold, float $ratio, float $makeup, int $steps, float $low, float $half,
        float $depth, float $gain, float $target, float $newest, int $age,
        float $m1, float $m2, float $m3, float $m4, float $m5, float $m6, float $m7,
        float $s1, float $s2, float $u1, float $u2, float $t1, float $t2, float $v1, float $v2,
        float $b0, float $b1, float $b2, float $a1, float $a2, float $d0, float $d1, float $d2, float $c1, float $c2,
    ): array {
        // Taken out of the object, so that there is nobody to make copies for.
        [$left, $right] = [$this->left, $this->right];
        $this->left = $this->right = [];
        $levelLeft *= 1.0 / 32768.0;
        $levelRight *= 1.0 / 32768.0;
        $targets = [];
        $i = 0;
        [$words, $step, $perStep] = [0, self::STEP, 1.0 / GainCurve::STEP];
        $held = max($m1, $m2, $m3, $m4, $m5, $m6, $m7);
        $known = -1.0;
        $tiny = Biquad::TINY;
        $wanted = 0.0;
        $power2 = 0.0;
        $slope = ($target - $gain) * $perStep;
        $targets[] = $target;
        for ($at = 0, $n = \strlen($bytes); $at < $n; $at += Unpacked::WORD_BYTES) {
            foreach (Unpacked::words($bytes, $at) as $word) {
                if (!\is_int($word)) {
                    throw new \TypeError('Words are integers.');
                }
                $x = ((($word << 48) >> 48) * $levelLeft + $grid) - $grid;
                $z = ((($word << 32) >> 48) * $levelRight + $grid) - $grid;
                $p = ((($word << 16) >> 48) * $levelLeft + $grid) - $grid;
                $q = (($word >> 48) * $levelRight + $grid) - $grid;
                $y = $b0 * $x + $s1;
                $w = $b0 * $z + $u1;
                $s1 = $s2 + $b1 * $x - $a1 * $y;
                $u1 = $u2 + $b1 * $z - $a1 * $w;
                $s2 = $b2 * $x - $a2 * $y + $tiny;
                $u2 = $b2 * $z - $a2 * $w + $tiny;
                $x = $d0 * $y + $t1;
                $z = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $x;
                $v1 = $v2 + $d1 * $w - $c1 * $z;
                $t2 = $d2 * $y - $c2 * $x + $tiny;
                $v2 = $d2 * $w - $c2 * $z + $tiny;
                $y = $b0 * $p + $s1;
                $w = $b0 * $q + $u1;
                $s1 = $s2 + $b1 * $p - $a1 * $y;
                $u1 = $u2 + $b1 * $q - $a1 * $w;
                $s2 = $b2 * $p - $a2 * $y + $tiny;
                $u2 = $b2 * $q - $a2 * $w + $tiny;
                $p = $d0 * $y + $t1;
                $q = $d0 * $w + $v1;
                $t1 = $t2 + $d1 * $y - $c1 * $p;
                $v1 = $v2 + $d1 * $w - $c1 * $q;
                $t2 = $d2 * $y - $c2 * $p + $tiny;
                $v2 = $d2 * $w - $c2 * $q + $tiny;
                $gain += $slope;
                $left[$i] += ((($x * $gain + $grid) - $grid) * $faderLeft + $grid) - $grid;
                $right[$i] += ((($z * $gain + $grid) - $grid) * $faderRight + $grid) - $grid;
                ++$i;
                $gain += $slope;
                $left[$i] += ((($p * $gain + $grid) - $grid) * $faderLeft + $grid) - $grid;
                $right[$i] += ((($q * $gain + $grid) - $grid) * $faderRight + $grid) - $grid;
                ++$i;
                $y = $x * $x;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $z * $z;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $p * $p;
                if ($y > $power2) {
                    $power2 = $y;
                }
                $y = $q * $q;
                if ($y > $power2) {
                    $power2 = $y;
                }
                if (++$words === $step) {
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
                        $y = $depth * 0.015625;
                        $y = 1.0 - $y * (1.0 - $y * (0.5 - $y * (0.16666666666666666 - $y * 0.041666666666666664)));
                        $y *= $y;
                        $y *= $y;
                        $y *= $y;
                        $y *= $y;
                        $y *= $y;
                        $y *= $y;
                        $target = $y * $makeup;
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
                    $slope = ($target - $gain) * $perStep;
                    $targets[] = $target;
                    $power2 = 0.0;
                    $words = 0;
                }
            }
        }
        array_pop($targets);
        [$this->left, $this->right] = [array_values($left), array_values($right)];

        return [[$s1, $s2, $u1, $u2, $t1, $t2, $v1, $v2], [$depth, $gain, $target, $newest, (float) $age, $m1, $m2, $m3, $m4, $m5, $m6, $m7], $targets];
    }
}
