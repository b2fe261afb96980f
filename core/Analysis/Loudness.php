<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\TruePeak;

/**
 * Integrated loudness (LUFS) and true peak (dBTP) of a recording. A file of one channel counts as one, as the standard has it;
 * what is shorter than a block is one block of its own length.
 * Source: ITU-R BS.1770-4 and EBU R 128: K-weighting, 400 ms blocks every 100 ms, gates at -70 LUFS and 10 LU below the mean.
 */
final readonly class Loudness
{
    private function __construct(public float $integratedLufs, public float $truePeakDb, public float $samplePeakDb)
    {
    }

    public static function of(AudioSource $source): self
    {
        $rate = $source->sampleRate();
        $hop = (int) round($rate / 10);
        [$shelf, $high] = self::weighting($rate);
        $powers = [];
        $total = 0.0;
        $sides = $source instanceof PcmFile && 1 === $source->channels ? 1 : 2;
        $states = [[0.0, 0.0, 0.0, 0.0], [0.0, 0.0, 0.0, 0.0]];
        $samplePeak = $truePeak = 0.0;
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += $hop) {
            $block = $source->read($at - TruePeak::BEFORE, $hop + TruePeak::BEFORE + TruePeak::AFTER);
            $power = 0.0;
            foreach (\array_slice([$block->left, $block->right], 0, $sides) as $side => $signal) {
                $truePeak = max($truePeak, Peak::of(TruePeak::peaks($signal, $truePeak)));
                $inside = \array_slice($signal, TruePeak::BEFORE, $hop);
                $samplePeak = max($samplePeak, Peak::of($inside));
                [$weighted, $states[$side]] = BiquadPair::filter($inside, $shelf, $high, $states[$side]);
                $power += self::energy($weighted) / $hop;
            }
            $total += $power * $hop;
            if ($at + $hop <= $frames) {
                $powers[] = $power;
            }
        }
        if (\count($powers) < 4 && $frames > 0) {
            $powers = array_fill(0, 4, $total / $frames);
        }

        return new self(self::gated($powers), Decibels::fromGain(max($truePeak, $samplePeak)), Decibels::fromGain($samplePeak));
    }

    /**
     * The two stages of K-weighting for any rate, from their analogue parameters (values as
     * worked out by B. De Man, "Evaluation of implementations of the EBU R128 loudness measurement", 2018).
     *
     * @return array{Biquad, Biquad}
     */
    private static function weighting(int $rate): array
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

    /** @param list<float> $signal */
    private static function energy(array $signal): float
    {
        $sum = 0.0;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $sum = $signal[$i] * $signal[$i] + $sum;
        }

        return $sum;
    }

    /** @param list<float> $powers mean square of each 100 ms */
    private static function gated(array $powers): float
    {
        $blocks = [];
        $n = \count($powers);
        for ($i = 0; $i + 4 <= $n; ++$i) {
            $blocks[] = array_sum(\array_slice($powers, $i, 4)) / 4.0;
        }
        $mean = static function (float $gate) use ($blocks): float {
            $loud = array_filter($blocks, static fn (float $p): bool => $p > 10.0 ** (($gate + 0.691) / 10.0));

            return [] === $loud ? 0.0 : array_sum($loud) / \count($loud);
        };
        $lufs = static fn (float $power): float => $power > 0.0 ? -0.691 + 10.0 * log10($power) : Decibels::FLOOR;
        $first = $lufs($mean(-70.0));

        return $lufs($mean(max(-70.0, $first - 10.0)));
    }
}
