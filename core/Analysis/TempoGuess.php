<?php

namespace Pestle\Core\Analysis;

/**
 * Tempo of a recording from its onset strength: autocorrelation, weighted towards the tempi people
 * tap most, and fined by whole bars when the recording is a loop.
 * Source: D. Ellis, "Beat tracking by dynamic programming" (JNMR 2007): log-normal weight around 120 BPM.
 */
final readonly class TempoGuess
{
    private const CENTRE_BPM = 105.0;
    private const WIDTH_OCTAVES = 0.9;

    /** @param float $confidence 0 to 1 */
    private function __construct(public float $bpm, public float $confidence, public ?int $bars)
    {
    }

    /**
     * @param list<float> $flux    onset strength every Onsets::HOP_SECONDS
     * @param float       $seconds length of the recording
     */
    public static function from(array $flux, float $seconds): ?self
    {
        $n = \count($flux);
        if ($n < 60) {
            return null;
        }
        $mean = array_sum($flux) / $n;
        $x = array_map(static fn (float $v): float => $v - $mean, $flux);
        $energy = array_sum(array_map(static fn (float $v): float => $v * $v, $x));
        if ($energy <= 0.0) {
            return null;
        }
        $loop = self::loop($x, $energy, $seconds);
        [$bpm, $score] = self::best($x, $energy);
        if (null !== $loop && $loop[1] > 0.6 * $score) {
            return new self($loop[0], min(1.0, max(0.0, $loop[1])), $loop[2]);
        }

        return new self(round($bpm, 1), min(1.0, max(0.0, $score)), null);
    }

    /**
     * @param list<float> $x
     *
     * @return array{float, float} tempo and weighted score
     */
    private static function best(array $x, float $energy): array
    {
        [$bpm, $most] = [120.0, -1.0];
        for ($candidate = 60.0; $candidate < 200.0; $candidate *= 1.004) {
            $score = self::score($x, $energy, $candidate);
            if ($score > $most) {
                [$bpm, $most] = [$candidate, $score];
            }
        }

        return [$bpm, $most];
    }

    /**
     * The best tempo at which the recording is 1, 2, 4, 8 or 16 bars long.
     *
     * @param list<float> $x
     *
     * @return array{float, float, int}|null tempo, score, bars
     */
    private static function loop(array $x, float $energy, float $seconds): ?array
    {
        $best = null;
        foreach ([1, 2, 4, 8, 16] as $bars) {
            $bpm = $bars * 240.0 / $seconds;
            if ($bpm < 60.0 || $bpm > 200.0) {
                continue;
            }
            $score = self::score($x, $energy, $bpm);
            if (null === $best || $score > $best[1]) {
                $best = [round($bpm, 2), $score, $bars];
            }
        }

        return $best;
    }

    /** @param list<float> $x */
    private static function score(array $x, float $energy, float $bpm): float
    {
        $beat = 60.0 / $bpm / Onsets::HOP_SECONDS;
        $sum = 0.6 * self::correlation($x, $beat) + 0.25 * self::correlation($x, 2 * $beat) + 0.3 * self::correlation($x, 4 * $beat) + 0.25 * self::correlation($x, $beat / 2);
        $octaves = log($bpm / self::CENTRE_BPM, 2) / self::WIDTH_OCTAVES;

        return $sum / $energy * exp(-0.5 * $octaves * $octaves);
    }

    /** @param list<float> $x */
    private static function correlation(array $x, float $lag): float
    {
        $whole = (int) $lag;
        $part = $lag - $whole;
        $sum = 0.0;
        for ($i = 0, $n = \count($x) - $whole - 1; $i < $n; ++$i) {
            $sum += $x[$i] * ($x[$i + $whole] * (1.0 - $part) + $x[$i + $whole + 1] * $part);
        }

        return $sum;
    }
}
