<?php

namespace Pestle\Core\Signal;

/**
 * Fourier transform of real signals whose length is a power of two, at least 4.
 *
 * A real signal of N values is transformed as N/2 complex ones and split afterwards.
 * Source: Cooley and Tukey (1965), radix 4 in place with bit reversal; the split as in
 * Sorensen et al., "Real-valued fast Fourier transform algorithms" (1987).
 */
final class Fft
{
    private readonly int $half;
    private readonly int $stages;
    /** @var list<int> */
    private array $reversed = [];
    /** @var list<float> */
    private array $cos = [];
    /** @var list<float> */
    private array $sin = [];
    /** @var list<float> */
    private readonly array $zeros;

    public function __construct(public readonly int $size)
    {
        if ($size < 4 || 0 !== ($size & ($size - 1))) {
            throw new \InvalidArgumentException('The size of a transform must be a power of two, at least 4.');
        }
        $this->half = intdiv($size, 2);
        $this->zeros = array_fill(0, $this->half, 0.0);
        $this->stages = $bits = (int) round(log($this->half, 2));
        for ($i = 0; $i < $this->half; ++$i) {
            $r = 0;
            for ($b = 0; $b < $bits; ++$b) {
                $r |= (($i >> $b) & 1) << ($bits - 1 - $b);
            }
            $this->reversed[] = $r;
            $this->cos[] = cos(2 * \M_PI * $i / $size);
            $this->sin[] = sin(2 * \M_PI * $i / $size);
        }
    }

    /** The transform whose length is nearest to a number of values, at least 64. */
    public static function near(float $values): self
    {
        return new self(max(64, 1 << (int) round(log(max(2.0, $values), 2))));
    }

    /**
     * @param array<int, float> $signal exactly `size` values
     *
     * @return array{list<float>, list<float>} real and imaginary parts of bins 0 to size/2
     */
    public function forward(array $signal): array
    {
        $re = $im = $this->zeros;
        foreach ($this->reversed as $i => $r) {
            $re[$i] = $signal[2 * $r];
            $im[$i] = $signal[2 * $r + 1];
        }

        return $this->split(...$this->transformed($re, $im));
    }

    /**
     * The way back: what forward() was made of.
     *
     * @param array<int, float> $re bins 0 to size/2
     * @param array<int, float> $im
     *
     * @return list<float>
     */
    public function inverse(array $re, array $im): array
    {
        // Even and odd values as one complex signal, conjugated, so that the forward transform takes it back.
        $n = $this->half;
        $zr = $zi = $this->zeros;
        [$cos, $sin] = [$this->cos, $this->sin];
        foreach ($this->reversed as $i => $k) {
            $rk = $re[$k];
            $rm = $re[$n - $k];
            $ik = $im[$k];
            $im2 = $im[$n - $k];
            $c = $cos[$k];
            $s = $sin[$k];
            if (!\is_float($rk) || !\is_float($rm) || !\is_float($ik) || !\is_float($im2) || !\is_float($c) || !\is_float($s)) {
                throw new \TypeError('A transform is of floats.');
            }
            $oddRe = $rk - $rm;
            $oddIm = $ik + $im2;
            $zr[$i] = $rk + $rm - $oddRe * $s - $oddIm * $c;
            $zi[$i] = -($ik - $im2 + $oddRe * $c - $oddIm * $s);
        }
        [$zr, $zi] = $this->transformed($zr, $zi);
        $scale = 1.0 / $this->size;
        $out = array_fill(0, $this->size, 0.0);
        foreach ($zr as $k => $even) {
            $out[2 * $k] = $even * $scale;
            $out[2 * $k + 1] = -$zi[$k] * $scale;
        }

        return array_values($out);
    }

    /**
     * Two stages at a time, so that values are read and written half as often.
     *
     * @param array<int, float> $re in bit-reversed order
     * @param array<int, float> $im
     *
     * @return array{array<int, float>, array<int, float>}
     */
    private function transformed(array $re, array $im): array
    {
        $n = $this->half;
        [$cos, $sin] = [$this->cos, $this->sin];
        $span = 1;
        if (0 === $this->stages % 2) {
            for ($i = 0; $i < $n; $i += 4) {
                $a = $re[$i] + $re[$i + 1];
                $b = $re[$i] - $re[$i + 1];
                $c = $re[$i + 2] + $re[$i + 3];
                $d = $re[$i + 2] - $re[$i + 3];
                $e = $im[$i] + $im[$i + 1];
                $f = $im[$i] - $im[$i + 1];
                $g = $im[$i + 2] + $im[$i + 3];
                $h = $im[$i + 2] - $im[$i + 3];
                $re[$i] = $a + $c;
                $im[$i] = $e + $g;
                $re[$i + 1] = $b + $h;
                $im[$i + 1] = $f - $d;
                $re[$i + 2] = $a - $c;
                $im[$i + 2] = $e - $g;
                $re[$i + 3] = $b - $h;
                $im[$i + 3] = $f + $d;
            }
            $span = 4;
        } else {
            for ($i = 0; $i < $n; $i += 2) {
                $a = $re[$i + 1];
                $b = $im[$i + 1];
                $re[$i + 1] = $re[$i] - $a;
                $im[$i + 1] = $im[$i] - $b;
                $re[$i] += $a;
                $im[$i] += $b;
            }
            $span = 2;
        }
        for (; $span < $n; $span *= 4) {
            // Angles are kept for a transform of the real size, twice that of this one.
            $stride = intdiv($n, 2 * $span);
            $step = 4 * $span;
            for ($k = 0; $k < $span; ++$k) {
                $c1 = $cos[2 * $k * $stride];
                $s1 = $sin[2 * $k * $stride];
                $c2 = $cos[$k * $stride];
                $s2 = $sin[$k * $stride];
                if (!\is_float($c1) || !\is_float($s1) || !\is_float($c2) || !\is_float($s2)) {
                    throw new \TypeError('A transform is of floats.');
                }
                $c3 = $c1 * $c2 - $s1 * $s2;
                $s3 = $s1 * $c2 + $c1 * $s2;
                for ($i = $k; $i < $n; $i += $step) {
                    $j = $i + $span;
                    $l = $j + $span;
                    $m = $l + $span;
                    $ar = $re[$i];
                    $ai = $im[$i];
                    $br = $re[$j];
                    $bi = $im[$j];
                    $cr = $re[$l];
                    $ci = $im[$l];
                    $dr = $re[$m];
                    $di = $im[$m];
                    // The compiler keeps in registers only what it knows the type of.
                    if (!\is_float($ar) || !\is_float($ai) || !\is_float($br) || !\is_float($bi) || !\is_float($cr) || !\is_float($ci) || !\is_float($dr) || !\is_float($di)) {
                        throw new \TypeError('A transform is of floats.');
                    }
                    $xr = $br * $c1 + $bi * $s1;
                    $xi = $bi * $c1 - $br * $s1;
                    $br = $ar - $xr;
                    $bi = $ai - $xi;
                    $ar += $xr;
                    $ai += $xi;
                    $xr = $cr * $c2 + $ci * $s2;
                    $xi = $ci * $c2 - $cr * $s2;
                    $yr = $dr * $c3 + $di * $s3;
                    $yi = $di * $c3 - $dr * $s3;
                    $er = $xr + $yr;
                    $ei = $xi + $yi;
                    $fr = $xr - $yr;
                    $fi = $xi - $yi;
                    $re[$i] = $ar + $er;
                    $im[$i] = $ai + $ei;
                    $re[$j] = $br + $fi;
                    $im[$j] = $bi - $fr;
                    $re[$l] = $ar - $er;
                    $im[$l] = $ai - $ei;
                    $re[$m] = $br - $fi;
                    $im[$m] = $bi + $fr;
                }
            }
        }

        return [$re, $im];
    }

    /**
     * @param array<int, float> $signal
     *
     * @return list<float> magnitudes of bins 0 to size/2
     */
    public function magnitudes(array $signal): array
    {
        [$re, $im] = $this->forward($signal);
        foreach ($re as $k => $r) {
            $i = $im[$k];
            $re[$k] = sqrt($r * $r + $i * $i);
        }

        return $re;
    }

    /**
     * @param array<int, float> $re
     * @param array<int, float> $im
     *
     * @return array{list<float>, list<float>}
     */
    private function split(array $re, array $im): array
    {
        $n = $this->half;
        [$cos, $sin] = [$this->cos, $this->sin];
        $outRe = $outIm = array_fill(0, $n + 1, 0.0);
        for ($k = 1; $k < $n; ++$k) {
            $m = $n - $k;
            $rk = $re[$k];
            $rm = $re[$m];
            $ik = $im[$k];
            $im2 = $im[$m];
            $c = $cos[$k];
            $s = $sin[$k];
            if (!\is_float($rk) || !\is_float($rm) || !\is_float($ik) || !\is_float($im2) || !\is_float($c) || !\is_float($s)) {
                throw new \TypeError('A transform is of floats.');
            }
            $oddRe = 0.5 * ($ik + $im2);
            $oddIm = 0.5 * ($rm - $rk);
            $outRe[$k] = 0.5 * ($rk + $rm) + $oddRe * $c + $oddIm * $s;
            $outIm[$k] = 0.5 * ($ik - $im2) + $oddIm * $c - $oddRe * $s;
        }
        $outRe[0] = $re[0] + $im[0];
        $outRe[$n] = $re[0] - $im[0];

        return [array_values($outRe), array_values($outIm)];
    }
}
