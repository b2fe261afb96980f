<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\IdealPeak;
use Pestle\Core\Signal\Peak;

/**
 * Loudness of a sound that comes block after block, in constant memory but for ten numbers a second.
 * Sources: ITU-R BS.1770-4 and EBU R 128 for K-weighting, 400 ms blocks every 100 ms, gates at -70 LUFS and 10 LU below
 * the mean; EBU Tech 3341 for momentary (400 ms) and short-term (3 s); EBU Tech 3342 for the range.
 */
final class LoudnessMeter
{
    private const SHORT_TERM = 30;
    private readonly int $hop;
    private readonly Biquad $shelf;
    private readonly Biquad $high;
    /** @var list<array{float, float, float, float}> by side */
    private array $states = [[0.0, 0.0, 0.0, 0.0], [0.0, 0.0, 0.0, 0.0]];
    /** @var list<float> mean square of each whole 100 ms */
    private array $powers = [];
    private float $energy = 0.0;
    private float $total = 0.0;
    private int $frames = 0;
    private float $samplePeak = 0.0;
    private float $truePeak = 0.0;
    /** @var list<list<float>> the last frames of each side, between which and what follows peaks may lie */
    private array $tails;
    /** Sums of left times right, left squared and right squared. */
    private float $both = 0.0;
    private float $left = 0.0;
    private float $right = 0.0;

    /** @param int $sides 1 for a sound of one channel, which counts once */
    public function __construct(int $sampleRate, private readonly int $sides = 2)
    {
        $this->hop = (int) round($sampleRate / 10);
        [$this->shelf, $this->high] = self::weighting($sampleRate);
        $this->tails = array_fill(0, 2, array_fill(0, 2 * IdealPeak::REACH, 0.0));
    }

    public function add(StereoBlock $block): void
    {
        for ($at = 0, $frames = $block->frames(); $at < $frames; $at += $count) {
            $count = min($this->hop - $this->frames % $this->hop, $frames - $at);
            $part = $block->slice($at, $count);
            foreach (\array_slice([$part->left, $part->right], 0, $this->sides) as $side => $signal) {
                $this->side($side, $signal);
            }
            $this->alike($part->left, $part->right);
            $this->frames += $count;
            if (0 === $this->frames % $this->hop) {
                $this->powers[] = $this->energy / $this->hop;
                $this->energy = 0.0;
            }
        }
    }

    public function integratedLufs(): float
    {
        $blocks = self::means(\count($this->powers) < 4 && $this->frames > 0 ? array_fill(0, 4, $this->total / $this->frames) : $this->powers, 4);
        $first = self::lufs(self::above($blocks, -70.0));

        return self::lufs(self::above($blocks, max(-70.0, $first - 10.0)));
    }

    /** The loudest 400 ms. */
    public function momentaryLufs(): float
    {
        return self::lufs(max([0.0, ...self::means($this->powers, 4)]));
    }

    /** The loudest 3 s; of less than that the whole. */
    public function shortTermLufs(): float
    {
        return \count($this->powers) < self::SHORT_TERM ? self::lufs($this->total / max(1, $this->frames)) : self::lufs(max([0.0, ...self::means($this->powers, self::SHORT_TERM)]));
    }

    /** From what is soft to what is loud, in LU: 10th to 95th of hundred short-term values. */
    public function rangeLu(): float
    {
        $blocks = self::means($this->powers, self::SHORT_TERM);
        $gate = max(-70.0, self::lufs(self::above($blocks, -70.0)) - 20.0);
        $loud = array_values(array_filter(array_map(self::lufs(...), $blocks), static fn (float $lufs): bool => $lufs > $gate));
        sort($loud);
        $last = \count($loud) - 1;

        return $last < 1 ? 0.0 : $loud[(int) round(0.95 * $last)] - $loud[(int) round(0.1 * $last)];
    }

    public function truePeakDb(): float
    {
        $after = array_fill(0, IdealPeak::REACH, 0.0);
        $peak = max($this->truePeak, $this->samplePeak);
        foreach ($this->tails as $tail) {
            $peak = max([$peak, ...IdealPeak::peaks([[...$tail, ...$after]], $peak, asMeters: true)]);
        }

        return Decibels::fromGain($peak);
    }

    public function samplePeakDb(): float
    {
        return Decibels::fromGain($this->samplePeak);
    }

    /** 1 for both sides alike, 0 for sides that have nothing in common, -1 for one the reverse of the other; 1 for silence. */
    public function correlation(): float
    {
        $power = sqrt($this->left * $this->right);

        return $power > 0.0 ? $this->both / $power : 1.0;
    }

    /** @param list<float> $signal */
    private function side(int $side, array $signal): void
    {
        $this->samplePeak = max($this->samplePeak, Peak::of($signal));
        $known = [...$this->tails[$side], ...$signal];
        $this->truePeak = max($this->truePeak, Peak::of(IdealPeak::peaks([$known], $this->truePeak, asMeters: true)));
        $this->tails[$side] = \array_slice($known, -2 * IdealPeak::REACH);
        [$weighted, $state] = BiquadPair::filter($signal, $this->shelf, $this->high, $this->states[$side]);
        $this->states[$side] = $state;
        $energy = self::product($weighted, $weighted);
        $this->energy += $energy;
        $this->total += $energy;
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     */
    private function alike(array $left, array $right): void
    {
        $this->left += $own = self::product($left, $left);
        $this->right += $left === $right ? $own : self::product($right, $right);
        $this->both += $left === $right ? $own : self::product($left, $right);
    }

    /**
     * The two stages of K-weighting for any rate, from their analogue parameters (values as
     * worked out by B. De Man, "Evaluation of implementations of the EBU R128 loudness measurement", 2018).
     *
     * @return array{Biquad, Biquad}
     */
    public static function weighting(int $rate): array
    {
        $k = tan(\M_PI * 1681.974450955533 / $rate);
        $q = 0.7071752369554196;
        $vh = 10.0 ** (3.999843853973347 / 20.0);
        $vb = $vh ** 0.4996667741545416;
        $shelf = Biquad::of($vh + $vb * $k / $q + $k * $k, 2 * ($k * $k - $vh), $vh - $vb * $k / $q + $k * $k, 1 + $k / $q + $k * $k, 2 * ($k * $k - 1), 1 - $k / $q + $k * $k);
        $k = tan(\M_PI * 38.13547087602444 / $rate);
        $q = 0.5003270373238773;
        $a0 = 1 + $k / $q + $k * $k;
        // The standard's high-pass has numerator 1, -2, 1 without normalisation.
        $high = Biquad::of($a0, -2 * $a0, $a0, $a0, 2 * ($k * $k - 1), 1 - $k / $q + $k * $k);

        return [$shelf, $high];
    }

    /**
     * Sum of one times the other.
     *
     * @param list<float> $a
     * @param list<float> $b
     */
    public static function product(array $a, array $b): float
    {
        $sum = 0.0;
        for ($i = 0, $n = \count($a); $i < $n; ++$i) {
            $sum = $a[$i] * $b[$i] + $sum;
        }

        return $sum;
    }

    /**
     * Of so many neighbours each, one further every time.
     *
     * @param list<float> $powers
     *
     * @return list<float>
     */
    private static function means(array $powers, int $count): array
    {
        $means = [];
        for ($i = 0, $n = \count($powers); $i + $count <= $n; ++$i) {
            $means[] = array_sum(\array_slice($powers, $i, $count)) / $count;
        }

        return $means;
    }

    /** @param list<float> $blocks */
    private static function above(array $blocks, float $gateLufs): float
    {
        $loud = array_filter($blocks, static fn (float $p): bool => $p > 10.0 ** (($gateLufs + 0.691) / 10.0));

        return [] === $loud ? 0.0 : array_sum($loud) / \count($loud);
    }

    private static function lufs(float $power): float
    {
        return $power > 0.0 ? -0.691 + 10.0 * log10($power) : Decibels::FLOOR;
    }
}
