<?php

namespace Pestle\Core\Analysis;

/**
 * Which of its beats begins the bar: kicks and cymbals speak for the first, snares for those between, and a recording
 * that starts with a hit usually starts with a bar.
 */
final class Downbeats
{
    private const NEAR_SECONDS = 0.05;
    private const NEAR_BEATS = 0.08;
    /** For bars of so many beats what a kick, a hand drum and a cymbal say when they fall on each. */
    private const WEIGHTS = [
        2 => ['kick' => [1.0, -0.5], 'snare' => [-1.0, 1.0], 'cymbal' => [1.2, -0.3]],
        3 => ['kick' => [1.0, -0.5, -0.4], 'snare' => [-1.0, 0.5, 0.6], 'cymbal' => [1.2, -0.3, -0.3]],
        4 => ['kick' => [1.0, -0.5, 0.3, -0.5], 'snare' => [-1.0, 1.0, -0.8, 1.0], 'cymbal' => [1.2, -0.3, 0.0, -0.3]],
        6 => ['kick' => [1.0, -0.3, -0.2, -0.5, -0.2, -0.1], 'snare' => [-1.0, -0.3, -0.3, 1.2, -0.3, -0.3], 'cymbal' => [1.2, -0.3, -0.3, -0.2, -0.3, -0.3]],
    ];
    private const HAND = [HitKind::Snare, HitKind::Clap, HitKind::Rim];
    private const START = 1.5;

    /**
     * @param list<float> $beats     seconds
     * @param list<Hit>   $hits
     * @param list<float> $hitTimes  seconds
     * @param int         $beatsABar 2, 3, 4 or 6
     *
     * @return int index of the first downbeat
     */
    public static function first(array $beats, array $hits, array $hitTimes, int $beatsABar = 4): int
    {
        $scores = array_fill(0, max(1, $beatsABar), 0.0);
        $next = 0;
        foreach ($beats as $k => $beat) {
            while (isset($hitTimes[$next]) && $hitTimes[$next] < $beat - self::NEAR_SECONDS) {
                ++$next;
            }
            for ($i = $next; isset($hitTimes[$i]) && $hitTimes[$i] <= $beat + self::NEAR_SECONDS; ++$i) {
                self::speak($scores, $k, $hits[$i]);
            }
        }
        if ([] !== $beats && $beats[0] < 0.1 && isset($hitTimes[0]) && $hitTimes[0] < 0.1) {
            $scores[0] += self::START + 0.1 * \count($beats);
        }

        return (int) array_search(max($scores), $scores, true);
    }

    /**
     * @param list<float> $places of hits, in beats
     * @param list<Hit>   $hits
     * @param float       $start  where a beat is
     *
     * @return non-empty-list<float> for each beat after the start what speaks for it as the first of a bar
     */
    public static function scores(int $beatsABar, array $places, array $hits, float $start): array
    {
        $scores = array_fill(0, max(1, $beatsABar), 0.0);
        foreach ($places as $i => $place) {
            $beat = (int) round($place - $start);
            if (abs($place - $start - $beat) <= self::NEAR_BEATS) {
                self::speak($scores, $beat, $hits[$i]);
            }
        }

        return $scores;
    }

    /**
     * @param non-empty-list<float> $scores
     *
     * @param-out non-empty-list<float> $scores
     */
    private static function speak(array &$scores, int $beat, Hit $hit): void
    {
        $beats = \count($scores);
        $kind = \in_array($hit->kind, self::HAND, true) ? 'snare' : $hit->kind->value;
        $weights = self::WEIGHTS[$beats][$kind] ?? null;
        if (null === $weights) {
            return;
        }
        foreach ($scores as $first => $score) {
            $scores[$first] = $score + $weights[(($beat - $first) % $beats + $beats) % $beats] * (0.3 + $hit->level);
        }
    }
}
