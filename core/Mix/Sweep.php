<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\StateVariable;

/** How far a filter's place is moved, by a sine and by how loud the sound is. */
final readonly class Sweep
{
    /** Level that moves it all the way, and times of the follower in ms. */
    private const LOUD = 0.5;
    private const ATTACK_MS = 5.0;
    private const RELEASE_MS = 120.0;

    private float $turns;
    private float $phase;
    private float $attack;
    private float $release;

    public function __construct(private FilterSettings $settings, Timing $timing)
    {
        [$this->turns, $this->phase] = [$settings->turns($timing), $settings->phase($timing)];
        $share = static fn (float $ms): float => 1.0 - exp(-StateVariable::STEP * 1000.0 / ($ms * $timing->sampleRate));
        [$this->attack, $this->release] = [$share(self::ATTACK_MS), $share(self::RELEASE_MS)];
    }

    /** @return array{list<float>, float} octaves for every StateVariable::STEP frames, and the follower after them */
    public function octaves(StereoBlock $in, int $at, float $level): array
    {
        $steps = (int) ceil($in->frames() / StateVariable::STEP);
        $wave = $this->settings->octaves > 0.0 ? Wave::sine(0, $steps, StateVariable::STEP * $this->turns, fmod($at * $this->turns + $this->phase, 1.0)) : array_fill(0, $steps, 0.0);
        $octaves = [];
        foreach ($wave as $s => $w) {
            $octaves[$s] = 0.5 * $this->settings->octaves * $w;
            if (0.0 !== $this->settings->follow) {
                $now = max(Peak::of(\array_slice($in->left, $s * StateVariable::STEP, StateVariable::STEP)), Peak::of(\array_slice($in->right, $s * StateVariable::STEP, StateVariable::STEP)));
                $level += ($now - $level) * ($now > $level ? $this->attack : $this->release);
                $octaves[$s] += $this->settings->follow * min(1.0, $level / self::LOUD);
            }
        }

        return [array_values($octaves), $level];
    }
}
