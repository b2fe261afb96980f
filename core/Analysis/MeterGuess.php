<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Theory\Meter;

/**
 * How the beats of a recording are counted: in bars of four, three or six, or in twelve, where every beat has three parts.
 * What is weighed: after how many beats it repeats itself, where between beats its hits fall, which beats its kicks and
 * snares fall on, and of how many beats it is a whole number long.
 */
final readonly class MeterGuess
{
    public const METERS = ['4/4', '3/4', '6/8', '12/8'];
    /** Four is by far the most common: the others have to be this likely. */
    private const SURE = 0.6;
    private const LAGS = [1, 2, 3, 4, 6, 8];
    /** Parts of a beat at which hits are counted, and how near to them, in beats. */
    private const PARTS = [0.0, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 3 / 4];
    private const NEAR = 0.04;

    /** @param float $confidence 0 to 1 */
    private function __construct(public Meter $meter, public float $confidence)
    {
    }

    /**
     * @param list<Hit> $hits
     * @param float     $bpm     of the beats
     * @param float     $seconds length of the recording
     */
    public static function of(Repetition $repeats, OnsetStrength $strength, array $hits, float $bpm, float $seconds): self
    {
        $likely = Fitted::probabilities(Fitted::network('meter')->outputs(self::features($repeats, $strength, $hits, $bpm, $seconds)) ?: [0.0]);
        arsort($likely);
        $best = (int) array_key_first($likely);
        $best = $likely[$best] < self::SURE ? 0 : $best;

        return new self(Meter::named(self::METERS[$best]), $likely[$best]);
    }

    /**
     * @param list<Hit> $hits
     *
     * @return list<float>
     */
    public static function features(Repetition $repeats, OnsetStrength $strength, array $hits, float $bpm, float $seconds): array
    {
        $beat = 60.0 / $bpm * $strength->framesASecond();
        $features = [];
        foreach (['all', 'low', 'mid', 'snare', 'kick'] as $name) {
            foreach (self::LAGS as $lag) {
                $features[] = $repeats->after($name, $beat * $lag);
            }
        }
        foreach ([1 / 3, 1 / 2, 2 / 3] as $part) {
            array_push($features, $repeats->after('all', $beat * $part), $repeats->after('high', $beat * $part));
        }
        $places = array_map(static fn (Hit $hit): float => $hit->frame / $strength->hop / $beat, $hits);
        array_push($features, ...self::parts($places, $hits), ...self::counted($places, $hits));
        $played = $repeats->last / $beat + 0.5;
        foreach ($repeats->numbers as $number) {
            $features[] = log(max(0.05, $number / $played));
        }
        foreach ([2.0, 3.0, 4.0, 6.0, 16.0, 12.0] as $beats) {
            $off = ($seconds * $bpm / 60.0 / $beats - round($seconds * $bpm / 60.0 / $beats)) * $beats / 0.08;
            $features[] = exp(-$off * $off);
        }
        $octaves = log($bpm / 110.0, 2);
        array_push($features, $octaves, $octaves * $octaves);

        return $features;
    }

    /**
     * How much of what is hit falls on each part of the beat, its start found so that most falls on beats.
     *
     * @param list<float> $places beats from the recording's start
     * @param list<Hit>   $hits
     *
     * @return list<float>
     */
    private static function parts(array $places, array $hits): array
    {
        $best = array_fill(0, \count(self::PARTS), 0.0);
        foreach ($places as $k => $start) {
            if ($k > 8) {
                break;
            }
            $sums = array_fill(0, \count(self::PARTS), 0.0);
            foreach ($places as $i => $place) {
                $part = $place - $start - floor($place - $start + self::NEAR);
                foreach (self::PARTS as $p => $at) {
                    if (abs($part - $at) <= self::NEAR) {
                        $sums[$p] += 0.2 + $hits[$i]->level;
                    }
                }
            }
            $best = $sums[0] > 1.05 * $best[0] ? $sums : $best;
        }
        $all = array_sum(array_map(static fn (Hit $hit): float => 0.2 + $hit->level, $hits)) + 1e-9;

        return array_map(static fn (float $sum): float => $sum / $all, $best);
    }

    /**
     * For bars of two, three, four and six: how much better the best beat to begin them with is than the others.
     *
     * @param list<float> $places beats from the recording's start
     * @param list<Hit>   $hits
     *
     * @return list<float>
     */
    private static function counted(array $places, array $hits): array
    {
        $out = [];
        foreach ([2, 3, 4, 6] as $beats) {
            $scores = Downbeats::scores($beats, $places, $hits, $places[0] ?? 0.0);
            rsort($scores);
            $out[] = ($scores[0] - array_sum($scores) / $beats) / max(1.0, \count($places)) * 4.0;
        }

        return $out;
    }
}
