<?php

namespace Pestle\Core\Mix;

/** The gain a dynamic stage gave a segment: straight lines between values STEP frames apart. */
final readonly class GainCurve
{
    public const STEP = 16;

    /**
     * @param list<float> $targets where each line leads to, from $start on
     * @param float       $full    gain when nothing is pulled down
     */
    public function __construct(private float $start, private array $targets, private float $full = 1.0)
    {
    }

    /**
     * The lowest gains of a curve that has one for every frame: to be shown, not to be applied.
     *
     * @param list<float> $gains
     */
    public static function along(array $gains): self
    {
        return new self(1.0, array_map(static fn (array $step): float => min($step), array_chunk($gains, self::STEP)));
    }

    /**
     * The gain of every frame, to the bit as the stage applied it.
     *
     * @return list<float>
     */
    public function expand(int $frames): array
    {
        $gains = [];
        $gain = $this->start;
        foreach ($this->targets as $target) {
            $slope = ($target - $gain) * (1.0 / self::STEP);
            for ($k = min(self::STEP, $frames - \count($gains)); $k > 0; --$k) {
                $gain += $slope;
                $gains[] = $gain;
            }
            $gain = $target;
        }

        return $gains;
    }

    /**
     * Curves of stretches that follow one another, each but the last a whole number of steps long.
     *
     * @param non-empty-list<self> $curves
     */
    public static function joined(array $curves): self
    {
        return new self($curves[0]->start, array_merge(...array_map(static fn (self $c): array => $c->targets, $curves)), min(array_map(static fn (self $c): float => $c->full, $curves)));
    }

    /**
     * How far the sound was pulled down at most in each stretch of a segment, as gains without make-up.
     *
     * @param int $every frames of a stretch, a whole number of steps
     *
     * @return list<float>
     */
    public function reductions(int $frames, int $every): array
    {
        $lowest = [];
        $from = $this->start;
        for ($at = 0; $at < $frames; $at += $every) {
            $targets = \array_slice($this->targets, intdiv($at, self::STEP), intdiv($every, self::STEP));
            $lowest[] = min([$from, ...$targets]) / $this->full;
            $from = [] === $targets ? $from : $targets[\count($targets) - 1];
        }

        return $lowest;
    }
}
