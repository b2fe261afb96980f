<?php

namespace Pestle\Core\Theory;

/**
 * Swing on sixteenths, in percent of the eighth note that its first half takes:
 * 50 is straight, 66.7 a triplet feel, 75 the most.
 */
final readonly class Swing
{
    private const PAIR = 2 * Ticks::PER_STEP;

    private function __construct(public float $percent)
    {
    }

    /** @throws \InvalidArgumentException outside 50 to 75 */
    public static function percent(float $percent): self
    {
        if (!($percent >= 50.0 && $percent <= 75.0)) {
            throw new \InvalidArgumentException('Swing must lie between 50 and 75 %.');
        }

        return new self(round($percent, 1));
    }

    /**
     * Where a written tick sounds. Both halves of a pair are stretched linearly,
     * so a hit placed between steps keeps its place between its neighbours.
     */
    public function sounding(int $tick): int
    {
        $within = $tick % self::PAIR;
        $start = $tick - $within;
        $middle = self::PAIR * $this->percent / 100.0;
        $place = $within < Ticks::PER_STEP
            ? $within * $middle / Ticks::PER_STEP
            : $middle + ($within - Ticks::PER_STEP) * (self::PAIR - $middle) / Ticks::PER_STEP;

        return $start + (int) round($place);
    }

    /** The written tick that sounds at $tick: what a hit played live is stored as. */
    public function written(int $tick): int
    {
        $within = $tick % self::PAIR;
        $middle = self::PAIR * $this->percent / 100.0;
        $place = $within < $middle
            ? $within * Ticks::PER_STEP / $middle
            : Ticks::PER_STEP + ($within - $middle) * Ticks::PER_STEP / (self::PAIR - $middle);

        return $tick - $within + (int) round($place);
    }
}
