<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;

/**
 * Full level while a sound is loud, less of it while it is not; or, turned over, less while another is loud: what makes
 * room. Every sixteen frames it looks at the highest peak of these; the gain goes 63 % of the way, in decibels, in attack
 * or release, in straight lines. With an attack of nothing it is there from the very frame that is loud enough, clicks and all.
 */
final readonly class Gate implements Insert
{
    private float $opens;
    private float $closes;
    private float $attack;
    private bool $atOnce;
    private float $release;
    /** Steps for which it stays open. */
    private int $hold;
    /** Nepers. */
    private float $depth;

    /** @param bool $ducks whether it is down while the sound is loud */
    public function __construct(private bool $ducks, float $thresholdDb, float $hysteresisDb, float $attackMs, float $holdMs, float $releaseMs, float $rangeDb, float $sampleRate)
    {
        $this->opens = Decibels::toGain($thresholdDb);
        $this->closes = Decibels::toGain($thresholdDb - $hysteresisDb);
        $perMs = $sampleRate / 1000.0 / GainCurve::STEP;
        // The line to the new gain takes a step itself.
        $share = static fn (float $steps): float => 1.0 - exp(-1.0 / max(0.25, $steps - 1.0));
        $this->attack = $attackMs > 0.0 ? $share($attackMs * $perMs) : 1.0;
        $this->atOnce = $attackMs <= 0.0;
        $this->release = $share($releaseMs * $perMs);
        $this->hold = (int) round($holdMs * $perMs);
        [$this->depth] = Grid::state([$rangeDb * log(10.0) / 20.0]);
    }

    /** Nepers it is down, the gain and where it is going, steps it stays open. */
    public function rest(): InsertState
    {
        [$gain] = Grid::state([$this->ducks ? 1.0 : exp(-$this->depth)]);

        return new InsertState([$this->ducks ? 0.0 : $this->depth, $gain, $gain, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $steering = $key ?? $in;
        [$down, $gain, $target, $left] = $state->numbers;
        $start = $gain;
        $open = $left > 0.0;
        $targets = $gains = [];
        $mono = $steering->left === $steering->right;
        for ($i = 0, $n = $in->frames(); $i < $n; $i += GainCurve::STEP) {
            $line = $this->atOnce ? (new GainCurve($gain, [$target]))->expand(min(GainCurve::STEP, $n - $i)) : [];
            $targets[] = $target;
            $gain = $target;
            $level = Peak::of(\array_slice($steering->left, $i, GainCurve::STEP));
            $level = $mono ? $level : max($level, Peak::of(\array_slice($steering->right, $i, GainCurve::STEP)));
            // One more than it stays open: 0 is closed.
            $left = $level > $this->opens || ($left > 0.0 && $level > $this->closes) ? $this->hold + 1.0 : max(0.0, $left - 1.0);
            $opened = !$open && $left > 0.0;
            $open = $left > 0.0;
            $wanted = $open === $this->ducks ? $this->depth : 0.0;
            $down += ($wanted - $down) * ($open ? $this->attack : $this->release);
            if (abs($wanted - $down) < 1e-6) {
                $down = $wanted;
            }
            $target = exp(-$down);
            if ($this->atOnce && $opened) {
                $from = self::first($steering, $i, $this->opens);
                array_splice($line, $from, \count($line), array_fill(0, max(0, \count($line) - $from), $target));
                $targets[\count($targets) - 1] = $gain = $target;
            }
            array_push($gains, ...$line);
        }
        $curve = new GainCurve($start, $targets, 1.0, $this->atOnce ? $gains : null);

        return [Gain::along($in, $curve), new InsertState(Grid::state([$down, $gain, $target, $left])), $curve];
    }

    /** Frame of a step at which it is first as loud. */
    private static function first(StereoBlock $steering, int $at, float $level): int
    {
        for ($k = 0; $k < GainCurve::STEP; ++$k) {
            if (max(abs($steering->left[$at + $k] ?? 0.0), abs($steering->right[$at + $k] ?? 0.0)) > $level) {
                return $k;
            }
        }

        return 0;
    }
}
