<?php

namespace Pestle\Core\Analysis;

/**
 * Which of four beats begins the bar: kicks and cymbals speak for the first, snares for the second and fourth,
 * and a recording that starts with a hit usually starts with a bar.
 */
final class Downbeats
{
    private const NEAR_SECONDS = 0.05;
    /** For each kind, what it says when it falls on the first, second, third and fourth beat. */
    private const WEIGHTS = [
        'kick' => [1.0, -0.5, 0.3, -0.5], 'snare' => [-1.0, 1.0, -0.8, 1.0], 'clap' => [-1.0, 1.0, -0.8, 1.0], 'rim' => [-0.8, 0.8, -0.6, 0.8],
        'cymbal' => [1.2, -0.3, 0.0, -0.3],
    ];
    private const START = 1.5;

    /**
     * @param list<float> $beats    seconds
     * @param list<Hit>   $hits
     * @param list<float> $hitTimes seconds
     *
     * @return int index of the first downbeat, 0 to 3
     */
    public static function first(array $beats, array $hits, array $hitTimes): int
    {
        $scores = [0.0, 0.0, 0.0, 0.0];
        $next = 0;
        foreach ($beats as $k => $beat) {
            while (isset($hitTimes[$next]) && $hitTimes[$next] < $beat - self::NEAR_SECONDS) {
                ++$next;
            }
            for ($i = $next; isset($hitTimes[$i]) && $hitTimes[$i] <= $beat + self::NEAR_SECONDS; ++$i) {
                $weights = self::WEIGHTS[$hits[$i]->kind->value] ?? [0.0, 0.0, 0.0, 0.0];
                for ($first = 0; $first < 4; ++$first) {
                    $scores[$first] += $weights[(($k - $first) % 4 + 4) % 4] * (0.3 + $hits[$i]->level);
                }
            }
        }
        if ([] !== $beats && $beats[0] < 0.1 && isset($hitTimes[0]) && $hitTimes[0] < 0.1) {
            $scores[0] += self::START + 0.1 * \count($beats);
        }

        return (int) array_search(max($scores), $scores, true);
    }
}
