<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\IdealPeak;

/** The look-ahead limiter in the way of a line: it is given its sound late (Late), and beside it as it comes. */
final readonly class LimiterInsert implements Insert
{
    private Limiter $limiter;
    private float $gain;

    public function __construct(LimiterSettings $settings, Timing $timing)
    {
        $this->gain = Decibels::toGain($settings->gainDb);
        $this->limiter = new Limiter($settings->ceilingDb, $timing->sampleRate, 0.001 * $settings->releaseMs, $timing->rules);
    }

    /** The frames that are still to come, left and right; then what the limiter has: its last frames, and the gains it averages. */
    public function rest(): InsertState
    {
        return new InsertState([...array_fill(0, 2 * (Limiter::NEEDS + IdealPeak::REACH), 0.0), ...array_fill(0, Limiter::GAINS, 1.0)]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $numbers = $state->numbers;
        [, $left, $right] = Late::wait($key ?? $in, Limiter::NEEDS, \array_slice($numbers, 0, Limiter::NEEDS), \array_slice($numbers, Limiter::NEEDS, Limiter::NEEDS));
        $own = \array_slice($numbers, 2 * Limiter::NEEDS);
        if (!array_filter(\array_slice($own, -Limiter::GAINS), static fn (float $gain): bool => $gain < 1.0)) {
            $own = \array_slice($own, 0, -Limiter::GAINS);
        }
        $ahead = new StereoBlock($left, $right);
        [$gains, $after] = $this->limiter->gain(Gain::sides($in, $this->gain, $this->gain), Gain::sides($ahead, $this->gain, $this->gain), $own);
        $gains ??= array_fill(0, $in->frames(), 1.0);
        $curve = GainCurve::along(1.0 === $this->gain ? $gains : array_map(fn (float $g): float => $g * $this->gain, $gains), $this->gain);
        $after = \count($after) > 2 * IdealPeak::REACH ? $after : [...$after, ...array_fill(0, Limiter::GAINS, 1.0)];

        return [Gain::along($in, $curve), new InsertState([...Grid::state([...$left, ...$right]), ...$after]), $curve];
    }
}
