<?php

namespace Pestle\Core\Analysis;

/**
 * What speaks for each tempo from 60 to 190 BPM, in steps of one percent: how well the recording repeats itself at
 * multiples of the beat (overall, in its lows, middle and highs, in its snares and its kicks alone), how many hits
 * fall on a beat, and whether its length is a whole number of bars.
 * Source: autocorrelation tempogram after P. Grosche and M. Müller, "Extracting predominant local pulse information
 * from music recordings" (IEEE TASLP 2011); the weighing of several cues is a conditional logit fitted to recordings.
 */
final readonly class TempoFeatures
{
    private const SLOWEST_BPM = 60.0;
    private const FASTEST_BPM = 190.0;
    private const STEP = 1.01;
    /** Beats at which repetition is looked for. */
    private const LAGS = [
        'all' => [0.25, 1 / 3, 0.5, 2 / 3, 0.75, 1, 1.5, 2, 3, 4], 'low' => [0.5, 1, 1.5, 2, 3, 4], 'mid' => [0.5, 1, 1.5, 2, 3, 4],
        'high' => [0.25, 0.5, 1, 2], 'snare' => [0.5, 1, 2, 4], 'kick' => [0.5, 1, 2, 4],
    ];
    private const BACKBEAT = [HitKind::Snare, HitKind::Clap, HitKind::Rim];

    /** @param non-empty-list<array{float, list<float>}> $candidates tempo and its features */
    private function __construct(public array $candidates)
    {
    }

    /**
     * @param list<Hit> $hits
     * @param float     $seconds length of the recording
     */
    public static function of(OnsetStrength $strength, array $hits, float $seconds): self
    {
        $rate = $strength->framesASecond();
        $count = min(\count($strength->all), (int) (OnsetStrength::BANDS_SECONDS * $rate));
        $trains = ['all' => $strength->all, 'low' => $strength->low, 'mid' => $strength->mid, 'high' => $strength->high, 'snare' => array_fill(0, $count, 0.0), 'kick' => array_fill(0, $count, 0.0)];
        $numbers = ['hits' => 0.0, 'snare' => 0.0, 'kick' => 0.0];
        $last = 0;
        foreach ($hits as $hit) {
            $at = (int) round($hit->frame / $strength->hop);
            $kind = HitKind::Kick === $hit->kind ? 'kick' : (\in_array($hit->kind, self::BACKBEAT, true) ? 'snare' : null);
            if ($at < $count) {
                ++$numbers['hits'];
                $last = $at;
                if (null !== $kind) {
                    $trains[$kind][$at] = 1.0;
                    ++$numbers[$kind];
                }
            }
        }
        $longest = (int) (4 * 60.0 / self::SLOWEST_BPM * $rate) + 2;
        $repeats = [];
        foreach ($trains as $name => $train) {
            $repeats[$name] = self::autocorrelation(self::smoothed(\array_slice($train, 0, $count), 'all' === $name ? 10.0 : 1.0), $longest);
        }
        $candidates = [];
        for ($bpm = self::SLOWEST_BPM; $bpm < self::FASTEST_BPM; $bpm *= self::STEP) {
            $beat = 60.0 / $bpm * $rate;
            $features = [];
            foreach (self::LAGS as $name => $lags) {
                foreach ($lags as $lag) {
                    $features[] = self::at($repeats[$name], $beat * $lag);
                }
            }
            $played = $last / $beat + 0.5;
            foreach ($numbers as $number) {
                $density = log(max(0.05, $number / $played));
                array_push($features, $density, $density * $density);
            }
            $octaves = log($bpm / 110.0, 2);
            array_push($features, ...self::length($seconds * $bpm / 240.0), ...[$octaves, $octaves * $octaves]);
            $candidates[] = [$bpm, $features];
        }

        return new self($candidates);
    }

    /** @return array{float, float} how nearly the recording is a whole number of bars, and a usual number */
    private static function length(float $bars): array
    {
        $off = 4.0 * abs($bars - round($bars)) / 0.08;
        $whole = exp(-$off * $off);

        return [$whole, \in_array((int) round($bars), [1, 2, 4, 8, 16], true) ? $whole : 0.0];
    }

    /**
     * @param list<float> $train
     *
     * @return list<float> compressed, a little blurred, and without its mean
     */
    private static function smoothed(array $train, float $compression): array
    {
        $y = array_map(static fn (float $v): float => log(1.0 + $compression * $v), $train);
        $out = [];
        foreach ($y as $i => $v) {
            $out[] = 3.0 * $v + 2.0 * (($y[$i - 1] ?? 0.0) + ($y[$i + 1] ?? 0.0)) + ($y[$i - 2] ?? 0.0) + ($y[$i + 2] ?? 0.0);
        }
        $mean = array_sum($out) / max(1, \count($out));

        return array_map(static fn (float $v): float => $v - $mean, $out);
    }

    /**
     * As if the recording were a loop: what runs out at its end goes on at its start.
     *
     * @param list<float> $x
     *
     * @return list<float> 1 at lag 0
     */
    private static function autocorrelation(array $x, int $longest): array
    {
        $n = \count($x);
        $energy = 1e-9;
        foreach ($x as $v) {
            $energy += $v * $v;
        }
        $out = [];
        for ($lag = 0; $lag <= $longest; ++$lag) {
            $k = $lag % $n;
            $inside = $n - $k;
            $sum = 0.0;
            for ($i = 0; $i < $inside; ++$i) {
                $sum = $x[$i] * $x[$i + $k] + $sum;
            }
            for (; $i < $n; ++$i) {
                $sum = $x[$i] * $x[$i - $inside] + $sum;
            }
            $out[] = $sum / $energy;
        }

        return $out;
    }

    /** @param list<float> $values */
    private static function at(array $values, float $place): float
    {
        $i = (int) $place;
        $part = $place - $i;

        return $values[$i] * (1.0 - $part) + ($values[$i + 1] ?? 0.0) * $part;
    }
}
