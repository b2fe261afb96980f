<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Theory\Curve;

/** Stretches of time that have come to lie elsewhere, each whole; what lay in none is gone, and what is new lies in none. */
final readonly class Runs
{
    /** @param list<array{int, int, int}> $list tick where it was, tick where it is, and how long both are; in the order of where they are */
    public function __construct(public array $list)
    {
    }

    /** Where a tick has come to lie first; null where it is gone. */
    public function tick(int $at): ?int
    {
        foreach ($this->list as [$was, $is, $ticks]) {
            if ($at >= $was && $at < $was + $ticks) {
                return $at - $was + $is;
            }
        }

        return null;
    }

    /** A curve over it as it was, as it is now: in what is new it stays as it was just before. */
    public function curve(Curve $curve): Curve
    {
        $points = [];
        foreach ($this->list as [$was, $is, $ticks]) {
            foreach ($curve->piece($was, $was + $ticks) as [$tick, $value, $bend]) {
                $points[] = [$is + $tick, $value, $bend];
            }
        }
        $points = self::thinned($points);

        return [] === $points || \count($points) > Curve::MOST_POINTS ? $curve : new Curve($points);
    }

    /**
     * Without points at which nothing changes: pieces that come to lie side by side as they were are one again.
     *
     * @param list<array{float, float, float}> $points
     *
     * @return list<array{float, float, float}>
     */
    private static function thinned(array $points): array
    {
        $out = [];
        foreach ($points as $i => $point) {
            $last = $out[\count($out) - 1] ?? null;
            $next = $points[$i + 1] ?? null;
            $flat = null !== $last && $last[1] === $point[1] && (null === $next || $next[1] === $point[1]);
            if ($point === $last || $flat) {
                continue;
            }
            $out[] = $point;
        }

        return $out;
    }
}
