<?php

namespace Pestle\Core\Render;

/** Which later strike ends each strike, and when. */
final class Silencing
{
    /**
     * When each name is said, as often as may count for a strike before: the first times.
     *
     * @param list<Strike> $strikes in order of time
     *
     * @return array<string, non-empty-list<int>>
     */
    public static function said(array $strikes): array
    {
        $said = [];
        foreach ($strikes as $strike) {
            foreach ($strike->says as $name) {
                $said[$name][] = $strike->frame;
            }
        }

        return $said;
    }

    /**
     * What is said as a loop goes round: in the next pass, and in so many more as may count.
     *
     * @param array<string, non-empty-list<int>> $said in one pass
     *
     * @return array<string, non-empty-list<int>>
     */
    public static function round(array $said, int $frames, int $most): array
    {
        $round = [];
        foreach ($said as $name => $at) {
            for ($pass = 1; \count($round[$name] ?? []) < $most; ++$pass) {
                foreach ($at as $frame) {
                    $round[$name][] = $frame + $pass * $frames;
                }
            }
        }

        return $round;
    }

    /**
     * @param list<Strike>                       $strikes in order of time
     * @param array<string, non-empty-list<int>> $later   what is said after them, in order of time
     *
     * @return array<int, int|null> frame by strike; null where nothing ends it
     */
    public static function cuts(array $strikes, array $later): array
    {
        // The next time a name is said lies last.
        $next = array_map(array_reverse(...), $later);
        $cuts = [];
        for ($i = \count($strikes) - 1; $i >= 0; --$i) {
            $cut = null;
            foreach ($strikes[$i]->ends as $name => $times) {
                $said = $next[$name] ?? [];
                $at = $said[\count($said) - $times] ?? null;
                $cut = null === $cut || null === $at ? $cut ?? $at : min($cut, $at);
            }
            $cuts[$i] = $cut;
            foreach ($strikes[$i]->says as $name) {
                $next[$name][] = $strikes[$i]->frame;
            }
        }

        return $cuts;
    }

    /** @param list<Strike> $strikes */
    public static function most(array $strikes): int
    {
        $most = 1;
        foreach ($strikes as $strike) {
            foreach ($strike->ends as $times) {
                $most = max($most, $times);
            }
        }

        return $most;
    }
}
