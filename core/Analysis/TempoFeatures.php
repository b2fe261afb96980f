<?php

namespace Pestle\Core\Analysis;

/**
 * What speaks for each tempo from 60 to 190 BPM, in steps of one percent: how well the recording repeats itself at
 * multiples of the beat, how many hits fall on a beat, and whether its length is a whole number of bars of four or three.
 * The weighing of several cues is a conditional logit fitted to recordings.
 */
final readonly class TempoFeatures
{
    private const SLOWEST_BPM = 60.0;
    private const FASTEST_BPM = 190.0;
    private const STEP = 1.01;
    /** Beats at which repetition is looked for. */
    private const LAGS = [
        'all' => [0.25, 1 / 3, 0.5, 2 / 3, 0.75, 1, 1.5, 2, 3, 4, 6], 'low' => [0.5, 1, 1.5, 2, 3, 4, 6], 'mid' => [0.5, 1, 1.5, 2, 3, 4, 6],
        'high' => [0.25, 0.5, 1, 2], 'snare' => [0.5, 1, 2, 3, 4], 'kick' => [0.5, 1, 2, 3, 4],
    ];

    /** @param non-empty-list<array{float, list<float>}> $candidates tempo and its features */
    private function __construct(public array $candidates)
    {
    }

    /** @param float $seconds length of the recording */
    public static function of(Repetition $repeats, float $framesASecond, float $seconds): self
    {
        $candidates = [];
        for ($bpm = self::SLOWEST_BPM; $bpm < self::FASTEST_BPM; $bpm *= self::STEP) {
            $beat = 60.0 / $bpm * $framesASecond;
            $features = [];
            foreach (self::LAGS as $name => $lags) {
                foreach ($lags as $lag) {
                    $features[] = $repeats->after($name, $beat * $lag);
                }
            }
            $played = $repeats->last / $beat + 0.5;
            foreach ($repeats->numbers as $number) {
                $density = log(max(0.05, $number / $played));
                array_push($features, $density, $density * $density);
            }
            $octaves = log($bpm / 110.0, 2);
            array_push($features, ...self::length($seconds * $bpm / 240.0), ...self::length($seconds * $bpm / 180.0), ...[$octaves, $octaves * $octaves]);
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
}
