<?php

namespace Pestle\Core\Theory;

/**
 * Swing on sixteenths or eighths, in percent of the pair that its first half takes:
 * 50 is straight, 66.7 a triplet feel, 75 the most.
 */
final readonly class Swing
{
    private function __construct(public float $percent, private int $step)
    {
    }

    /**
     * @param int $step ticks of each half of a pair while it is straight
     *
     * @throws \InvalidArgumentException outside 50 to 75
     */
    public static function percent(float $percent, int $step = Ticks::PER_STEP): self
    {
        if (!($percent >= 50.0 && $percent <= 75.0)) {
            throw new \InvalidArgumentException('Swing must lie between 50 and 75 %.');
        }

        return new self(round($percent, 1), $step);
    }

    /**
     * Where a written tick sounds. Both halves of a pair are stretched linearly,
     * so a hit placed between steps keeps its place between its neighbours.
     */
    public function sounding(int $tick): int
    {
        $within = $tick % (2 * $this->step);
        $start = $tick - $within;
        $middle = 2 * $this->step * $this->percent / 100.0;
        $place = $within < $this->step
            ? $within * $middle / $this->step
            : $middle + ($within - $this->step) * (2 * $this->step - $middle) / $this->step;

        return $start + (int) round($place);
    }

    /** The written tick that sounds at $tick: what a hit played live is stored as. */
    public function written(int $tick): int
    {
        $within = $tick % (2 * $this->step);
        $middle = 2 * $this->step * $this->percent / 100.0;
        $place = $within < $middle
            ? $within * $this->step / $middle
            : $this->step + ($within - $middle) * $this->step / (2 * $this->step - $middle);

        return $tick - $within + (int) round($place);
    }
}
