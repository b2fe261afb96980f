<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\StateVariable;

/** A state-variable filter of second order on both sides, whose cut-off follows a sine and how loud the sound is. */
final readonly class Filter implements Insert
{
    private const BUTTERWORTH = 0.70710678118655;
    private const OCTAVES = 5.0;
    private const HIGHEST = 0.48;
    /** Level that moves the cut-off all the way, and times of the follower in ms. */
    private const LOUD = 0.5;
    private const ATTACK_MS = 5.0;
    private const RELEASE_MS = 120.0;

    private float $turns;
    private float $damping;
    private float $attack;
    private float $release;

    public function __construct(private FilterSettings $settings, private Timing $timing)
    {
        $this->turns = $settings->turns($timing);
        $this->damping = 1.0 / (self::BUTTERWORTH * 2.0 ** (self::OCTAVES * $settings->resonance));
        $share = static fn (float $ms): float => 1.0 - exp(-StateVariable::STEP * 1000.0 / ($ms * $timing->sampleRate));
        [$this->attack, $this->release] = [$share(self::ATTACK_MS), $share(self::RELEASE_MS)];
    }

    /** Both integrators by side, and the follower. */
    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0, 0.0, 0.0, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$a, $b, $c, $d, $level] = $state->numbers;
        [$warped, $level] = $this->places($in, $at, $level);
        $wet = 0.01 * $this->settings->mix;
        $k = $this->damping;
        [$dry, $band, $low] = match ($this->settings->shape) {
            FilterShape::Low, FilterShape::Off => [0.0, 0.0, 1.0],
            FilterShape::High => [1.0, -$k, -1.0],
            FilterShape::Band => [0.0, $k, 0.0],
            FilterShape::Notch => [1.0, -$k, 0.0],
        };
        $mix = [1.0 - $wet + $wet * $dry, $wet * $band, $wet * $low];
        [$left, $a, $b] = StateVariable::filter($in->left, $warped, $k, $mix, $a, $b);
        $same = $in->left === $in->right && [$state->numbers[0], $state->numbers[1]] === [$c, $d];
        [$right, $c, $d] = $same ? [$left, $a, $b] : StateVariable::filter($in->right, $warped, $k, $mix, $c, $d);

        return [Gain::onGrid(new StereoBlock($left, $right)), new InsertState(Grid::state([$a, $b, $c, $d, $level])), null];
    }

    /** @return array{list<float>, float} tan(pi hz / rate) for every StateVariable::STEP frames, and the follower */
    private function places(StereoBlock $in, int $at, float $level): array
    {
        $steps = (int) ceil($in->frames() / StateVariable::STEP);
        $wave = $this->settings->octaves > 0.0 ? Wave::sine(0, $steps, StateVariable::STEP * $this->turns, fmod($at * $this->turns, 1.0)) : array_fill(0, $steps, 0.0);
        $warped = [];
        foreach ($wave as $s => $w) {
            $octaves = 0.5 * $this->settings->octaves * $w;
            if (0.0 !== $this->settings->follow) {
                $now = max(Peak::of(\array_slice($in->left, $s * StateVariable::STEP, StateVariable::STEP)), Peak::of(\array_slice($in->right, $s * StateVariable::STEP, StateVariable::STEP)));
                $level += ($now - $level) * ($now > $level ? $this->attack : $this->release);
                $octaves += $this->settings->follow * min(1.0, $level / self::LOUD);
            }
            $warped[] = tan(\M_PI * max(20.0 / $this->timing->sampleRate, min(self::HIGHEST, $this->settings->cutoffHz * 2.0 ** $octaves / $this->timing->sampleRate)));
        }

        return [$warped, $level];
    }
}
