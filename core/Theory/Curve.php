<?php

namespace Pestle\Core\Theory;

/**
 * A value that moves over time: points, and how it goes from each to the next. Before the first and after the last it
 * stays as it is there.
 */
final readonly class Curve
{
    public const MOST_POINTS = 1000;

    /**
     * @param non-empty-list<array{float, float, float}> $points tick, value, and bend towards the next: 0 straight, up to 1 late, down to -1 early; at 1 and -1 it jumps
     *
     * @throws \InvalidArgumentException when there are none or too many, or they are not in order
     */
    public function __construct(public array $points)
    {
        if ([] === $points || \count($points) > self::MOST_POINTS) {
            throw new \InvalidArgumentException(\sprintf('A curve has 1 to %s points.', number_format(self::MOST_POINTS)));
        }
        foreach ($points as $i => [$tick, , $bend]) {
            if ($tick < ($points[$i - 1][0] ?? 0.0) || abs($bend) > 1.0) {
                throw new \InvalidArgumentException('The points of a curve follow one another in time, each with a bend of -1 to 1.');
            }
        }
    }

    public function at(float $tick): float
    {
        return $this->values($tick, 1.0, 1)[0];
    }

    /** @return non-empty-list<float> so many values, so many ticks apart */
    public function values(float $tick, float $ticks, int $count): array
    {
        $values = [];
        $next = 0;
        $last = \count($this->points) - 1;
        for ($k = 0; $k < $count; ++$k) {
            $at = $tick + $k * $ticks;
            while ($next <= $last && $this->points[$next][0] <= $at) {
                ++$next;
            }
            $values[] = match (true) {
                0 === $next => $this->points[0][1],
                $next > $last => $this->points[$last][1],
                default => self::between($this->points[$next - 1], $this->points[$next], $at),
            };
        }

        return $values ?: [$this->at($tick)];
    }

    /**
     * @param array{float, float, float} $from
     * @param array{float, float, float} $to
     */
    private static function between(array $from, array $to, float $tick): float
    {
        $way = ($tick - $from[0]) / ($to[0] - $from[0]);
        $way = match (true) {
            0.0 === $from[2] => $way,
            1.0 === $from[2] => 0.0,
            -1.0 === $from[2] => 1.0,
            default => $way ** (2.0 ** (4.0 * $from[2])),
        };

        return $from[1] + ($to[1] - $from[1]) * $way;
    }
}
