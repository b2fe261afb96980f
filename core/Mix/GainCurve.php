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

    /** How far the sound was pulled down at most, as a gain without make-up. */
    public function reduction(): float
    {
        return ([] === $this->targets ? $this->start : min($this->start, min($this->targets))) / $this->full;
    }
}
