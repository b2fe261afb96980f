<?php

namespace Pestle\Core\Sample;

/** Where every frame of a sound comes to lie when its length is changed, evenly or by places. */
final readonly class StretchMap
{
    public const SHORTEST = 0.25;
    public const LONGEST = 4.0;

    /** @param non-empty-list<array{float, float}> $points frame before and after, both ascending; the first is the start, the last the end */
    private function __construct(private array $points)
    {
    }

    /** @param float $ratio length afterwards over that before */
    public static function by(float $ratio, int $frames): self
    {
        if (!($ratio >= self::SHORTEST && $ratio <= self::LONGEST)) {
            throw new \InvalidArgumentException('A sound can be stretched to between a quarter and four times its length.');
        }

        return new self([[0.0, 0.0], [(float) $frames, $frames * $ratio]]);
    }

    /**
     * Beats that lie anywhere come to lie evenly. Before the first and after the last place the speed goes on;
     * where it would leave the limits of stretching, it stays at them.
     *
     * @param list<array{int, float}> $places      frame and beat, both ascending; at least two
     * @param float                   $framesABeat afterwards
     */
    public static function inTime(array $places, int $frames, float $framesABeat): self
    {
        $last = \count($places) - 1;
        if ($last < 1) {
            throw new \InvalidArgumentException('At least two places are needed to keep time.');
        }
        $pace = static fn (int $i): float => self::within(($places[$i + 1][1] - $places[$i][1]) * $framesABeat / max(1, $places[$i + 1][0] - $places[$i][0]));
        $at = max(0.0, $places[0][0] * $pace(0));
        $points = [[0.0, 0.0]];
        foreach ($places as $i => [$frame]) {
            if ($frame > 0 && $frame < $frames) {
                $points[] = [(float) $frame, $at];
            }
            if ($i < $last) {
                $at += ($places[$i + 1][0] - $frame) * $pace($i);
            }
        }
        [$from, $to] = $points[\count($points) - 1];
        $next = array_filter($places, static fn (array $p): bool => $p[0] <= $from);
        $points[] = [(float) $frames, $to + ($frames - $from) * $pace(max(0, min($last - 1, \count($next) - 1)))];

        return new self($points);
    }

    public function length(): int
    {
        return max(1, (int) round($this->points[\count($this->points) - 1][1]));
    }

    /** Whether every frame stays where it is. */
    public function keepsLength(): bool
    {
        return [] === array_filter($this->points, static fn (array $p): bool => abs($p[0] - $p[1]) > 0.5);
    }

    public function forward(float $frame): float
    {
        return $this->across($frame, 0, 1);
    }

    public function back(float $frame): float
    {
        return $this->across($frame, 1, 0);
    }

    /**
     * @param int<0, 1> $from
     * @param int<0, 1> $to
     */
    private function across(float $frame, int $from, int $to): float
    {
        [$low, $high] = [0, max(0, \count($this->points) - 2)];
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            [$low, $high] = $this->points[$middle][$from] <= $frame ? [$middle, $high] : [$low, $middle - 1];
        }
        [$a, $b] = [$this->points[$low], $this->points[$low + 1] ?? $this->points[$low]];

        return $b[$from] > $a[$from] ? $a[$to] + ($frame - $a[$from]) * ($b[$to] - $a[$to]) / ($b[$from] - $a[$from]) : $a[$to];
    }

    private static function within(float $ratio): float
    {
        return max(self::SHORTEST, min(self::LONGEST, $ratio));
    }
}
