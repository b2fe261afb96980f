<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Signal\Grid;

/** The gain a dynamic stage gave a segment: straight lines between values STEP frames apart. */
final readonly class GainCurve
{
    public const STEP = 16;

    /**
     * @param list<float>      $targets where each line leads to, from $start on
     * @param float            $full    gain when nothing is pulled down
     * @param list<float>|null $gains   of every frame, where they are no straight lines
     */
    public function __construct(private float $start, private array $targets, private float $full = 1.0, private ?array $gains = null)
    {
    }

    /**
     * A gain of its own for every frame.
     *
     * @param list<float> $gains
     * @param float       $full  gain when nothing is pulled down
     */
    public static function along(array $gains, float $full = 1.0): self
    {
        return new self($full, array_map(static fn (array $step): float => min($step), array_chunk($gains, self::STEP)), $full, $gains);
    }

    /** Only a share of it: what is left goes past it. */
    public function mixed(float $share): self
    {
        $mix = static fn (float $gain): float => 1.0 - $share + $share * $gain;

        return new self($mix($this->start), array_map($mix, $this->targets), $mix($this->full), null === $this->gains ? null : array_map($mix, $this->gains));
    }

    /**
     * The gain of every frame, to the bit as the stage applied it.
     *
     * @return list<float>
     */
    public function expand(int $frames): array
    {
        if (null !== $this->gains) {
            return $this->gains;
        }
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
     * One side with the gain of every frame, to the bit what expand() would make of it.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    public function times(array $signal): array
    {
        if (null !== $this->gains) {
            return Gain::curved($signal, $this->gains);
        }
        $grid = Grid::SOUND;
        $gain = $this->start;
        $n = \count($signal);
        $i = 0;
        foreach ($this->targets as $target) {
            $slope = ($target - $gain) * (1.0 / self::STEP);
            for ($end = min($n, $i + self::STEP); $i < $end; ++$i) {
                $gain += $slope;
                $signal[$i] = ($signal[$i] * $gain + $grid) - $grid;
            }
            $gain = $target;
        }

        return array_values($signal);
    }

    /**
     * Curves of stretches that follow one another, each but the last a whole number of steps long.
     *
     * @param non-empty-list<self> $curves
     */
    public static function joined(array $curves): self
    {
        $each = array_map(static fn (self $c): array => $c->gains ?? [], $curves);

        return new self(
            $curves[0]->start,
            array_merge(...array_map(static fn (self $c): array => $c->targets, $curves)),
            min(array_map(static fn (self $c): float => $c->full, $curves)),
            [] === $each[0] ? null : array_merge(...$each),
        );
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
