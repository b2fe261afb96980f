<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;

/** One of several recordings that are compared with each other: both sides as one. */
final class Take
{
    private const FFT = 16384;
    /** From where and how long noise is compared: behind the stroke itself, which others have as well. */
    private const NOISE_FROM_SECONDS = 0.012;
    private const NOISE_SECONDS = 0.16;
    private const LAG_SECONDS = 0.02;
    private const EDGES_HZ = [60, 120, 220, 400, 700, 1200, 2000, 3300, 5500, 9000, 15000];
    private const SPECTRUM_SECONDS = 0.3;

    public readonly int $frames;
    public readonly int $rate;
    public readonly float $peak;
    /** Frame at which it begins to sound. */
    public readonly int $begin;
    /** @var list<float> */
    private readonly array $values;
    /** @var list<float>|null */
    private ?array $bands = null;

    public function __construct(AudioSource $source)
    {
        $this->frames = $source->frames();
        $this->rate = $source->sampleRate();
        $block = $source->read(0, $this->frames);
        $values = $block->left;
        if ($block->right !== $block->left) {
            foreach ($block->right as $i => $right) {
                $values[$i] = 0.5 * ($values[$i] + $right);
            }
        }
        $this->values = array_values($values);
        $this->peak = [] === $values ? 0.0 : max(max($values), -min($values));
        $begin = 0;
        $over = 0.05 * $this->peak;
        while ($begin < $this->frames - 1 && abs($this->values[$begin]) <= $over) {
            ++$begin;
        }
        $this->begin = $begin;
    }

    /** Frame after the last one that is as loud, against its peak. */
    public function lastOver(float $gain): int
    {
        $over = $gain * $this->peak;
        for ($end = $this->frames; $end > 0 && abs($this->values[$end - 1]) <= $over; --$end) {
        }

        return $end;
    }

    /**
     * How much of what is not low two takes have in common shortly after they begin, at whatever delay of the one
     * against the other: the largest normalised correlation, 0 to 1, upside down or not.
     */
    public function sharedNoise(self $other): float
    {
        $fft = new Fft(self::FFT);
        [$re, $im] = $fft->forward($this->noise($this->begin));
        [$otherRe, $otherIm] = $fft->forward($other->noise($other->begin));
        $energy = self::energy($re, $im) * self::energy($otherRe, $otherIm);
        if ($energy <= 0.0) {
            return 0.0;
        }
        $crossRe = $crossIm = [];
        foreach ($re as $k => $r) {
            $crossRe[] = $r * $otherRe[$k] + $im[$k] * $otherIm[$k];
            $crossIm[] = $im[$k] * $otherRe[$k] - $r * $otherIm[$k];
        }
        $correlation = $fft->inverse($crossRe, $crossIm);
        $reach = (int) (self::LAG_SECONDS * $this->rate);
        $most = 0.0;
        for ($lag = -$reach; $lag <= $reach; ++$lag) {
            $most = max($most, abs($correlation[$lag < 0 ? self::FFT + $lag : $lag]));
        }

        // A transform's energy is its size times that of the values; bins 0 to half hold half of it.
        return min(1.0, $most * self::FFT / 2 / sqrt($energy));
    }

    /** How alike the spectra of the first moments are, whatever their levels: correlation of their bands in dB. */
    public function likeness(self $other): float
    {
        $a = $this->bands();
        $b = $other->bands();
        $meanA = array_sum($a) / \count($a);
        $meanB = array_sum($b) / \count($b);
        $both = $ownA = $ownB = 0.0;
        foreach ($a as $i => $value) {
            $both += ($value - $meanA) * ($b[$i] - $meanB);
            $ownA += ($value - $meanA) ** 2;
            $ownB += ($b[$i] - $meanB) ** 2;
        }

        return $ownA * $ownB <= 0.0 ? 0.0 : $both / sqrt($ownA * $ownB);
    }

    /**
     * What is behind its first stroke, with lows taken away by taking differences twice.
     *
     * @return list<float> one for each value of the transform
     */
    private function noise(int $begin): array
    {
        $from = max(2, $begin + (int) (self::NOISE_FROM_SECONDS * $this->rate));
        $count = min((int) (self::NOISE_SECONDS * $this->rate), intdiv(self::FFT, 2), $this->frames - $from);
        $noise = array_fill(0, self::FFT, 0.0);
        for ($i = 0; $i < $count; ++$i) {
            $noise[$i] = ($this->values[$from + $i] - 2.0 * $this->values[$from + $i - 1] + $this->values[$from + $i - 2]) * sin(\M_PI * ($i + 0.5) / $count);
        }

        return array_values($noise);
    }

    /** @return list<float> dB of each band */
    private function bands(): array
    {
        if (null !== $this->bands) {
            return $this->bands;
        }
        $fft = new Fft(self::FFT);
        $values = \array_slice($this->values, $this->begin, min(self::FFT, (int) (self::SPECTRUM_SECONDS * $this->rate)));
        [$re, $im] = $fft->forward(array_pad($values, self::FFT, 0.0));
        $bands = [];
        foreach (\array_slice(self::EDGES_HZ, 1) as $b => $top) {
            $energy = 1e-12;
            for ($k = (int) ceil(self::EDGES_HZ[$b] * self::FFT / $this->rate), $last = min(self::FFT / 2, $top * self::FFT / $this->rate); $k < $last; ++$k) {
                $energy += $re[$k] * $re[$k] + $im[$k] * $im[$k];
            }
            $bands[] = Decibels::fromGain(sqrt($energy));
        }

        return $this->bands = $bands;
    }

    /**
     * @param list<float> $re
     * @param list<float> $im
     */
    private static function energy(array $re, array $im): float
    {
        $energy = 0.0;
        foreach ($re as $k => $r) {
            $energy += $r * $r + $im[$k] * $im[$k];
        }

        return $energy;
    }
}
