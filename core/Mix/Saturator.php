<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\HalfbandDesign;

/**
 * One side through a curve at eight times its rate, sample for sample, all in one loop: between the stages arrays would
 * cost more than the arithmetic. Up and down by half-band filters of two branches of all-passes, which delay by less than
 * two ten-thousandths of a second and want nothing of what comes next. At the high rate the curve is taken as its mean
 * over the way from one sample to the next, so that little folds back.
 *
 * Source: R. A. Valenzuela and A. G. Constantinides, "Digital signal processing schemes for efficient interpolation and
 * decimation" (IEE Proceedings G 1983); J. Parker, V. Zavalishin, E. Le Bivic, "Reducing the aliasing of nonlinear
 * waveshaping using continuous-time convolution" (DAFx 2016).
 */
final readonly class Saturator
{
    /** x / sqrt(1 + x²), with its antiderivative's difference in closed form. */
    public const SOFT = 0;
    /** Cut off at ±1. */
    public const HARD = 1;
    /** Folded back by a sine. */
    public const FOLDED = 2;

    private const STATES = 42;

    /**
     * @param float $drive gain before the curve
     * @param float $bias  added before it
     * @param float $dry   share of the sound as it was, at the high rate, so that both arrive together
     * @param float $wet   share of the curve's
     */
    public function __construct(private int $curve, private float $drive, private float $bias, private float $dry, private float $wet)
    {
    }

    /** What comes out of the curve for silence, which is taken away: to the bit what the loop makes of it. */
    private function middle(): float
    {
        return match ($this->curve) {
            self::SOFT => $this->bias / sqrt(1.0 + $this->bias ** 2),
            self::HARD => max(-1.0, min(1.0, $this->bias)),
            default => sin($this->bias),
        };
    }

    /** @return list<float> */
    public function rest(): array
    {
        $fa = match ($this->curve) {
            self::SOFT => sqrt(1.0 + $this->bias ** 2),
            self::HARD => 0.5 * $this->bias ** 2,
            default => -cos($this->bias),
        };

        return Grid::state([$this->bias, $fa, ...array_fill(0, self::STATES, 0.0)]);
    }

    /**
     * @param list<float> $signal
     * @param list<float> $state  as rest()
     *
     * @return array{list<float>, list<float>}
     */
    public function through(array $signal, array $state): array
    {
        return self::run($signal, $this->curve, $this->drive, $this->bias, $this->dry, $this->wet, $this->wet * $this->middle(), Biquad::TINY, ...HalfbandDesign::ofThreeSteps(), ...$state);
    }

    /**
     * @param list<float> $signal
     *
     * @return array{list<float>, list<float>}
     */
    private static function run(
        array $signal, int $curve, float $drive, float $bias, float $dry, float $wet, float $offset, float $tiny,
        float $c0, float $c1, float $c2, float $c3, float $c4, float $c5, float $c6, float $c7,
        float $d0, float $d1, float $d2, float $d3, float $e0, float $e1, float $e2,
        float $a, float $fa,
        float $ua0, float $ua1, float $ua2, float $ua3, float $ua4, float $ub0, float $ub1, float $ub2,
        float $ub3, float $ub4, float $va0, float $va1, float $va2, float $vb0, float $vb1, float $vb2,
        float $wa0, float $wa1, float $wa2, float $wb0, float $wb1, float $fa0, float $fa1, float $fa2,
        float $fa3, float $fa4, float $fb0, float $fb1, float $fb2, float $fb3, float $fb4, float $ga0,
        float $ga1, float $ga2, float $gb0, float $gb1, float $gb2, float $ha0, float $ha1, float $ha2,
        float $hb0, float $hb1,
    ): array {
        for ($i = 0, $count = \count($signal); $i < $count; ++$i) {
            $x = $signal[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $x += $tiny;
            $p = $ua0;
            $ua0 = $x;
            $m = $c0 * ($x - $ua1) + $p;
            $p = $ua1;
            $ua1 = $m;
            $n = $c2 * ($m - $ua2) + $p;
            $p = $ua2;
            $ua2 = $n;
            $m = $c4 * ($n - $ua3) + $p;
            $p = $ua3;
            $ua3 = $m;
            $w0 = $c6 * ($m - $ua4) + $p;
            $ua4 = $w0;
            $p = $ub0;
            $ub0 = $x;
            $m = $c1 * ($x - $ub1) + $p;
            $p = $ub1;
            $ub1 = $m;
            $n = $c3 * ($m - $ub2) + $p;
            $p = $ub2;
            $ub2 = $n;
            $m = $c5 * ($n - $ub3) + $p;
            $p = $ub3;
            $ub3 = $m;
            $w1 = $c7 * ($m - $ub4) + $p;
            $ub4 = $w1;
            for ($k = 0; $k < 2; ++$k) {
                $v = 0 === $k ? $w0 : $w1;
                $p = $va0;
                $va0 = $v;
                $m = $d0 * ($v - $va1) + $p;
                $p = $va1;
                $va1 = $m;
                $v0 = $d2 * ($m - $va2) + $p;
                $va2 = $v0;
                $p = $vb0;
                $vb0 = $v;
                $m = $d1 * ($v - $vb1) + $p;
                $p = $vb1;
                $vb1 = $m;
                $v1 = $d3 * ($m - $vb2) + $p;
                $vb2 = $v1;
                for ($j = 0; $j < 2; ++$j) {
                    $u = 0 === $j ? $v0 : $v1;
                    $p = $wa0;
                    $wa0 = $u;
                    $m = $e0 * ($u - $wa1) + $p;
                    $p = $wa1;
                    $wa1 = $m;
                    $r0 = $e2 * ($m - $wa2) + $p;
                    $wa2 = $r0;
                    $p = $wb0;
                    $wb0 = $u;
                    $r1 = $e1 * ($u - $wb1) + $p;
                    $wb1 = $r1;
                    $b = $r0 * $drive + $bias;
                    if (0 === $curve) {
                        $fb = sqrt(1.0 + $b * $b);
                        $y = ($a + $b) / ($fa + $fb);
                    } elseif (1 === $curve) {
                        $h = $b < 0.0 ? -$b : $b;
                        $fb = $h > 1.0 ? $h - 0.5 : 0.5 * $b * $b;
                        $g = $b - $a;
                        if ($g > 1e-5 || $g < -1e-5) {
                            $y = ($fb - $fa) / $g;
                        } else {
                            $y = $h > 1.0 ? ($b > 0.0 ? 1.0 : -1.0) : $b;
                        }
                    } else {
                        $fb = -cos($b);
                        $g = $b - $a;
                        $y = $g > 1e-5 || $g < -1e-5 ? ($fb - $fa) / $g : sin($b);
                    }
                    $r0 = $dry * $r0 + $wet * $y - $offset;
                    $a = $b;
                    $fa = $fb;
                    $b = $r1 * $drive + $bias;
                    if (0 === $curve) {
                        $fb = sqrt(1.0 + $b * $b);
                        $y = ($a + $b) / ($fa + $fb);
                    } elseif (1 === $curve) {
                        $h = $b < 0.0 ? -$b : $b;
                        $fb = $h > 1.0 ? $h - 0.5 : 0.5 * $b * $b;
                        $g = $b - $a;
                        if ($g > 1e-5 || $g < -1e-5) {
                            $y = ($fb - $fa) / $g;
                        } else {
                            $y = $h > 1.0 ? ($b > 0.0 ? 1.0 : -1.0) : $b;
                        }
                    } else {
                        $fb = -cos($b);
                        $g = $b - $a;
                        $y = $g > 1e-5 || $g < -1e-5 ? ($fb - $fa) / $g : sin($b);
                    }
                    $r1 = $dry * $r1 + $wet * $y - $offset;
                    $a = $b;
                    $fa = $fb;
                    $p = $ha0;
                    $ha0 = $r1;
                    $m = $e0 * ($r1 - $ha1) + $p;
                    $p = $ha1;
                    $ha1 = $m;
                    $s0 = $e2 * ($m - $ha2) + $p;
                    $ha2 = $s0;
                    $p = $hb0;
                    $hb0 = $r0;
                    $s1 = $e1 * ($r0 - $hb1) + $p;
                    $hb1 = $s1;
                    $y = 0.5 * ($s0 + $s1);
                    if (0 === $j) {
                        $v0 = $y;
                    } else {
                        $v1 = $y;
                    }
                }
                $p = $ga0;
                $ga0 = $v1;
                $m = $d0 * ($v1 - $ga1) + $p;
                $p = $ga1;
                $ga1 = $m;
                $s0 = $d2 * ($m - $ga2) + $p;
                $ga2 = $s0;
                $p = $gb0;
                $gb0 = $v0;
                $m = $d1 * ($v0 - $gb1) + $p;
                $p = $gb1;
                $gb1 = $m;
                $s1 = $d3 * ($m - $gb2) + $p;
                $gb2 = $s1;
                $y = 0.5 * ($s0 + $s1);
                if (0 === $k) {
                    $w0 = $y;
                } else {
                    $w1 = $y;
                }
            }
            $p = $fa0;
            $fa0 = $w1;
            $m = $c0 * ($w1 - $fa1) + $p;
            $p = $fa1;
            $fa1 = $m;
            $n = $c2 * ($m - $fa2) + $p;
            $p = $fa2;
            $fa2 = $n;
            $m = $c4 * ($n - $fa3) + $p;
            $p = $fa3;
            $fa3 = $m;
            $s0 = $c6 * ($m - $fa4) + $p;
            $fa4 = $s0;
            $p = $fb0;
            $fb0 = $w0;
            $m = $c1 * ($w0 - $fb1) + $p;
            $p = $fb1;
            $fb1 = $m;
            $n = $c3 * ($m - $fb2) + $p;
            $p = $fb2;
            $fb2 = $n;
            $m = $c5 * ($n - $fb3) + $p;
            $p = $fb3;
            $fb3 = $m;
            $s1 = $c7 * ($m - $fb4) + $p;
            $fb4 = $s1;
            $signal[$i] = 0.5 * ($s0 + $s1);
        }

        return [array_values($signal), [
            $a, $fa,
            $ua0, $ua1, $ua2, $ua3, $ua4, $ub0, $ub1, $ub2, $ub3, $ub4,
            $va0, $va1, $va2, $vb0, $vb1, $vb2, $wa0, $wa1, $wa2, $wb0,
            $wb1, $fa0, $fa1, $fa2, $fa3, $fa4, $fb0, $fb1, $fb2, $fb3,
            $fb4, $ga0, $ga1, $ga2, $gb0, $gb1, $gb2, $ha0, $ha1, $ha2,
            $hb0, $hb1,
        ]];
    }
}
