<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\StateVariable;

/** A state-variable filter of second order on both sides, whose cut-off follows a sine and how loud the sound is. */
final readonly class Filter implements Insert
{
    private const BUTTERWORTH = 0.70710678118655;
    private const OCTAVES = 5.0;
    private const HIGHEST = 0.48;

    private Sweep $sweep;
    private float $damping;

    public function __construct(private FilterSettings $settings, private Timing $timing)
    {
        $this->sweep = new Sweep($settings, $timing);
        $this->damping = 1.0 / (self::BUTTERWORTH * 2.0 ** (self::OCTAVES * $settings->resonance));
    }

    /** Both integrators by side, and the follower. */
    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0, 0.0, 0.0, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$a, $b, $c, $d, $level] = $state->numbers;
        [$octaves, $level] = $this->sweep->octaves($in, $at, $level);
        $warped = [];
        foreach ($octaves as $o) {
            $warped[] = tan(\M_PI * max(20.0 / $this->timing->sampleRate, min(self::HIGHEST, $this->settings->cutoffHz * 2.0 ** $o / $this->timing->sampleRate)));
        }
        $wet = 0.01 * $this->settings->mix;
        $k = $this->damping;
        [$dry, $band, $low] = match ($this->settings->shape) {
            SweptShape::High => [1.0, -$k, -1.0],
            SweptShape::Band => [0.0, $k, 0.0],
            SweptShape::Notch => [1.0, -$k, 0.0],
            default => [0.0, 0.0, 1.0],
        };
        $mix = [1.0 - $wet + $wet * $dry, $wet * $band, $wet * $low];
        [$left, $a, $b] = StateVariable::filter($in->left, $warped, $k, $mix, $a, $b);
        $same = $in->left === $in->right && [$state->numbers[0], $state->numbers[1]] === [$c, $d];
        [$right, $c, $d] = $same ? [$left, $a, $b] : StateVariable::filter($in->right, $warped, $k, $mix, $c, $d);

        return [Gain::onGrid(new StereoBlock($left, $right)), new InsertState(Grid::state([$a, $b, $c, $d, $level])), null];
    }
}
