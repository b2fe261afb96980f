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

    public function __construct(public readonly int $size)
    {
        if ($size < 4 || 0 !== ($size & ($size - 1))) {
            throw new \InvalidArgumentException('The size of a transform must be a power of two, at least 4.');
        }
        $this->half = intdiv($size, 2);
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
        $re = $im = [];
        foreach ($this->reversed as $r) {
            $re[] = $signal[2 * $r];
            $im[] = $signal[2 * $r + 1];
        }
        [$re, $im] = $this->transformed($re, $im);

        return $this->split($re, $im);
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
        $zr = $zi = [];
        foreach ($this->reversed as $k) {
            $m = $n - $k;
            $c = $this->cos[$k];
            $s = $this->sin[$k];
            $oddRe = $re[$k] - $re[$m];
            $oddIm = $im[$k] + $im[$m];
            $zr[] = $re[$k] + $re[$m] - $oddRe * $s - $oddIm * $c;
            $zi[] = -($im[$k] - $im[$m] + $oddRe * $c - $oddIm * $s);
        }
        [$zr, $zi] = $this->transformed($zr, $zi);
        $scale = 1.0 / $this->size;
        $out = [];
        foreach ($zr as $k => $even) {
            $out[] = $even * $scale;
            $out[] = -$zi[$k] * $scale;
        }

        return $out;
    }

    /**
     * Two stages at a time, so that values are read and written half as often.
     *
     * @param list<float> $re in bit-reversed order
     * @param list<float> $im
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
            for ($k = 0; $k < $span; ++$k) {
                $c1 = $cos[2 * $k * $stride];
                $s1 = $sin[2 * $k * $stride];
                $c2 = $cos[$k * $stride];
                $s2 = $sin[$k * $stride];
                $c3 = $c1 * $c2 - $s1 * $s2;
                $s3 = $s1 * $c2 + $c1 * $s2;
                for ($i = $k; $i < $n; $i += 4 * $span) {
                    $j = $i + $span;
                    $l = $j + $span;
                    $m = $l + $span;
                    $br = $re[$j] * $c1 + $im[$j] * $s1;
                    $bi = $im[$j] * $c1 - $re[$j] * $s1;
                    $cr = $re[$l] * $c2 + $im[$l] * $s2;
                    $ci = $im[$l] * $c2 - $re[$l] * $s2;
                    $dr = $re[$m] * $c3 + $im[$m] * $s3;
                    $di = $im[$m] * $c3 - $re[$m] * $s3;
                    $ar = $re[$i] + $br;
                    $ai = $im[$i] + $bi;
                    $br = $re[$i] - $br;
                    $bi = $im[$i] - $bi;
                    $er = $cr + $dr;
                    $ei = $ci + $di;
                    $dr = $cr - $dr;
                    $di = $ci - $di;
                    $re[$i] = $ar + $er;
                    $im[$i] = $ai + $ei;
                    $re[$j] = $br + $di;
                    $im[$j] = $bi - $dr;
                    $re[$l] = $ar - $er;
                    $im[$l] = $ai - $ei;
                    $re[$m] = $br - $di;
                    $im[$m] = $bi + $dr;
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
        $outRe = [$re[0] + $im[0]];
        $outIm = [0.0];
        for ($k = 1; $k < $n; ++$k) {
            $m = $n - $k;
            $evenRe = 0.5 * ($re[$k] + $re[$m]);
            $evenIm = 0.5 * ($im[$k] - $im[$m]);
            $oddRe = 0.5 * ($im[$k] + $im[$m]);
            $oddIm = 0.5 * ($re[$m] - $re[$k]);
            $c = $this->cos[$k];
            $s = $this->sin[$k];
            $outRe[] = $evenRe + $oddRe * $c + $oddIm * $s;
            $outIm[] = $evenIm + $oddIm * $c - $oddRe * $s;
        }
        $outRe[] = $re[0] - $im[0];
        $outIm[] = 0.0;

        return [$outRe, $outIm];
    }
}
