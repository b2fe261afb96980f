<?php

namespace Pestle\Core\Theory;

/**
 * Swing on sixteenths or eighths, in percent of the pair that its first half takes:
 * 50 is straight, 66.7 a triplet feel, 75 the most.
 */
final readonly class Swing
{
    /** So near a triplet place, in ticks, counts as on it. */
    private const NEAR = 1.5;
    /** Share of a half around it in which what is played means the half. */
    private const OWN_SHARE = 0.1;

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

    /**
     * As sounding(), to the fraction of a tick; what lies on a triplet place stays there: swing moves the halves of its pairs
     * and what is played around them, and three notes in the time of two are no such halves.
     */
    public function at(float $tick): float
    {
        $within = fmod($tick, 2 * $this->step);
        if ($this->isTriplet($within)) {
            return $tick;
        }
        $middle = 2 * $this->step * $this->percent / 100.0;

        return $tick - $within + ($within < $this->step
            ? $within * $middle / $this->step
            : $middle + ($within - $this->step) * (2 * $this->step - $middle) / $this->step);
    }

    /** The tick that at() lets sound nearest to $tick. Where a swung half and a triplet fall together it is the half. */
    public function writtenAt(float $tick): float
    {
        $pair = 2 * $this->step;
        $within = fmod($tick, $pair);
        $middle = $pair * $this->percent / 100.0;
        $place = $within < $middle
            ? $within * $this->step / $middle
            : $this->step + ($within - $middle) * $this->step / ($pair - $middle);
        $half = round($place / $this->step) * $this->step;
        if ($this->isTriplet($within) && abs($place - $half) > self::OWN_SHARE * $this->step) {
            return $tick - $within + $this->triplet($within);
        }
        if ($this->isTriplet($place)) {
            // Written there it would stay: beside it, it is heard next to where it was played.
            $triplet = $this->triplet($place);
            $place = $triplet + ($place < $triplet ? -1.0 : 1.0) * (self::NEAR + 0.5);
        }

        return $tick - $within + $place;
    }

    /** Whether a place in a pair is, as good as, one of three or six equal parts of it and not its half. */
    private function isTriplet(float $within): bool
    {
        return 0 !== (int) round($within * 3.0 / $this->step) % 3 && abs($within - $this->triplet($within)) <= self::NEAR;
    }

    private function triplet(float $within): float
    {
        return round($within * 3.0 / $this->step) * $this->step / 3.0;
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
