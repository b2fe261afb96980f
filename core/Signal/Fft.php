<?php

namespace Pestle\Core\Signal;

/**
 * Fourier transform of real signals whose length is a power of two, at least 4.
 *
 * A real signal of N values is transformed as N/2 complex ones and split afterwards.
 * Source: Cooley and Tukey (1965), in place with bit reversal; the split as in
 * Sorensen et al., "Real-valued fast Fourier transform algorithms" (1987).
 */
final class Fft
{
    private readonly int $half;
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
        $bits = (int) round(log($this->half, 2));
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

    /**
     * @param list<float> $signal exactly `size` values
     *
     * @return array{list<float>, list<float>} real and imaginary parts of bins 0 to size/2
     */
    public function forward(array $signal): array
    {
        $n = $this->half;
        $re = $im = [];
        foreach ($this->reversed as $r) {
            $re[] = $signal[2 * $r];
            $im[] = $signal[2 * $r + 1];
        }
        [$cos, $sin] = [$this->cos, $this->sin];
        for ($span = 1; $span < $n; $span *= 2) {
            $stride = intdiv($n, $span);
            for ($k = 0; $k < $span; ++$k) {
                $c = $cos[$k * $stride];
                $s = $sin[$k * $stride];
                for ($i = $k; $i < $n; $i += 2 * $span) {
                    $j = $i + $span;
                    $tr = $re[$j] * $c + $im[$j] * $s;
                    $ti = $im[$j] * $c - $re[$j] * $s;
                    $re[$j] = $re[$i] - $tr;
                    $im[$j] = $im[$i] - $ti;
                    $re[$i] += $tr;
                    $im[$i] += $ti;
                }
            }
        }

        return $this->split($re, $im);
    }

    /**
     * @param list<float> $signal
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
