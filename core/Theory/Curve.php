<?php

namespace Pestle\Core\Theory;

/**
 * A value that moves over time: points, and how it goes from each to the next. Before the first and after the last it
 * stays as it is there.
 */
final readonly class Curve
{
    public const MOST_POINTS = 1000;
    /** How near straight ways come to a bend of which a part is left, as a share of how far it goes, and how often they are halved. */
    private const NEAR = 0.003;
    private const MOST_HALVED = 7;

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
        $last = \count($this->points) - 1;
        [$low, $high] = [0, $last + 1];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            [$low, $high] = $this->points[$middle][0] <= $tick ? [$middle + 1, $high] : [$low, $middle];
        }

        $before = $this->points[$low - 1] ?? $this->points[0];
        $next = $this->points[$low] ?? null;

        return 0 === $low || null === $next ? $before[1] : self::between($before, $next, $tick);
    }

    /** @return non-empty-list<float> at() so many times, so many ticks apart, in one go */
    public function values(float $tick, float $ticks, int $count): array
    {
        $points = $this->points;
        $values = [];
        $next = 0;
        $last = \count($points) - 1;
        for ($k = 0; $k < $count; ++$k) {
            $at = $tick + $k * $ticks;
            while ($next <= $last && $points[$next][0] <= $at) {
                ++$next;
            }
            $values[] = match (true) {
                0 === $next => $points[0][1],
                $next > $last => $points[$last][1],
                default => self::between($points[$next - 1], $points[$next], $at),
            };
        }

        return $values ?: [$this->at($tick)];
    }

    /**
     * What lies between two ticks, counted from the first of them; after it, it stays. A bend that is cut is kept by short straight ways.
     *
     * @return non-empty-list<array{float, float, float}>
     */
    public function piece(float $from, float $to): array
    {
        $inside = array_values(array_filter($this->points, static fn (array $p): bool => $p[0] > $from && $p[0] < $to));
        $places = [[$from, $this->at($from), $this->last($from)[2] ?? 0.0], ...$inside];
        $out = [];
        foreach ($places as $i => [$tick, $value, $bend]) {
            $next = $places[$i + 1][0] ?? $to;
            $isCut = (0 === $i && ($this->last($tick)[0] ?? $tick) < $tick) || (!isset($places[$i + 1]) && ($this->last($to)[0] ?? 0.0) < $to);
            $isBent = null !== $this->next($tick) && 0.0 !== $bend && 1.0 !== abs($bend);
            foreach ($isCut && $isBent ? $this->straight($tick, $next) : [[$tick, $value, $bend]] as [$at, $v, $b]) {
                $out[] = [$at - $from, $v, $b];
            }
        }

        return [...$out, [$to - $from, $this->justBefore($to), 1.0]];
    }

    /**
     * The straight ways it takes between two ticks, one after another; a bend is taken as many.
     *
     * @return list<array{float, float, float, float}> from tick, value there, to tick, value there
     */
    public function ways(float $from, float $to): array
    {
        $ways = [];
        for ($tick = $from; $tick < $to; $tick = $end) {
            $end = min($to, $this->next($tick)[0] ?? $to);
            $bend = $this->last($tick)[2] ?? 0.0;
            $straight = 0.0 === $bend || 1.0 === abs($bend) || null === $this->last($tick) || null === $this->next($tick) ? [[$tick]] : $this->straight($tick, $end);
            foreach ($straight as $i => [$start]) {
                $until = $straight[$i + 1][0] ?? $end;
                $ways[] = [$start, -1.0 === $bend ? $this->justBefore($until) : $this->at($start), $until, $this->justBefore($until)];
            }
        }

        return $ways;
    }

    /**
     * Straight ways for a bent one, halved until each is as good as the bend.
     *
     * @return list<array{float, float, float}> without the end
     */
    private function straight(float $from, float $to, int $halved = 0): array
    {
        $middle = 0.5 * ($from + $to);
        [$start, $end] = [$this->at($from), $this->justBefore($to)];
        $off = abs($this->at($middle) - 0.5 * ($start + $end));
        $far = abs(($this->next($from)[1] ?? $end) - ($this->last($from)[1] ?? $start));

        return $off <= self::NEAR * $far || self::MOST_HALVED === $halved
            ? [[$from, $start, 0.0]]
            : [...$this->straight($from, $middle, $halved + 1), ...$this->straight($middle, $to, $halved + 1)];
    }

    /** @return array{float, float, float}|null the last point at or before a tick */
    private function last(float $tick): ?array
    {
        $last = null;
        foreach ($this->points as $point) {
            if ($point[0] > $tick) {
                break;
            }
            $last = $point;
        }

        return $last;
    }

    /** @return array{float, float, float}|null the first point after a tick */
    private function next(float $tick): ?array
    {
        foreach ($this->points as $point) {
            if ($point[0] > $tick) {
                return $point;
            }
        }

        return null;
    }

    private function justBefore(float $tick): float
    {
        $before = null;
        foreach ($this->points as $point) {
            if ($point[0] >= $tick) {
                return null === $before ? $point[1] : self::between($before, $point, $tick);
            }
            $before = $point;
        }

        return $before[1] ?? 0.0;
    }

    /** As long as it takes so many times as long. */
    /** Its first ticks backwards; it stays as it is where that would take more points than one has. */
    public function mirrored(float $ticks): self
    {
        $ways = array_reverse($this->ways(0.0, $ticks));
        $points = [];
        foreach ($ways as $i => [$from, $value, $to, $end]) {
            $points[] = [$ticks - $to, $end, $value === $end ? 1.0 : 0.0];
            // A way ends where it began, also where it jumped there.
            if ($to - $from > 1.0 && $value !== $end && $value !== ($ways[$i + 1][3] ?? $value)) {
                $points[] = [$ticks - $from - 1.0, $value, 0.0];
            }
        }
        $points[] = [$ticks, $ways[\count($ways) - 1][1] ?? $this->at(0.0), 1.0];

        return \count($points) > self::MOST_POINTS ? $this : new self($points);
    }

    public function scaled(float $factor): self
    {
        return new self(array_map(static fn (array $p): array => [$p[0] * $factor, $p[1], $p[2]], $this->points));
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
