<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;

/**
 * An equalizer whose bands move: what MovingInserts makes of it, to the bit, in one loop over all steps. Bands that do not move
 * keep their coefficients.
 */
final readonly class MovingEqualizer implements Inserts
{
    private MovingInserts $stepwise;

    /**
     * @param array<string, array<string, non-empty-list<float>>> $moving values at every step by band, as inner() names it, and field
     * @param \Closure(int): FixedInserts                         $step   all of it as it is set at a step
     * @param int                                                 $count  steps of the segment
     */
    public function __construct(private EqualizerSettings $settings, private array $moving, \Closure $step, private int $count, private Timing $timing)
    {
        $this->stepwise = new MovingInserts($step, $count);
    }

    public function rest(): array
    {
        return $this->stepwise->rest();
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed
    {
        $sections = $this->sections();
        if (null === $sections) {
            return $this->stepwise->process($in, $frames, $keys, $states, $at);
        }
        [$sound, $state] = $this->filtered($in ?? StereoBlock::silence($frames), $states[0], $sections);

        return new Processed($sound, [$state], []);
    }

    public function part(StereoBlock $in, array $states, array $gains, int $at): array
    {
        $sections = $this->sections();
        if (null === $sections) {
            return $this->stepwise->part($in, $states, $gains, $at);
        }
        [$sound, $state] = $this->filtered($in, $states[0], $sections);

        return [$sound, [$state]];
    }

    /** @return non-empty-array<int, list<Biquad>>|null at every step the sections that act, by their place; null where they are not the same ones all along */
    private function sections(): ?array
    {
        if (isset($this->moving['']) || !$this->settings->on || $this->settings->share() < 1.0) {
            return null;
        }
        $sections = [];
        $place = 0;
        foreach ($this->settings->inner() as $path => $band) {
            $steps = isset($this->moving[$path]) ? $this->steps($band, $this->moving[$path]) : [$band->sections($this->timing->sampleRate)];
            foreach (array_keys($steps[0]) as $n) {
                $own = array_column($steps, $n);
                $sections[$place + $n] = 1 === \count($own) ? array_fill(0, max(1, $this->count), $own[0]) : $own;
            }
            if (array_sum(array_map(\count(...), $steps)) !== \count($steps) * \count($steps[0])) {
                return null;
            }
            $place += EqSlope::MOST_SECTIONS;
        }

        return $sections ?: null;
    }

    /**
     * @param array<string, non-empty-list<float>> $moving
     *
     * @return non-empty-list<list<Biquad>> its sections at every step, none where it does not act
     */
    private function steps(EqBand $band, array $moving): array
    {
        $steps = [];
        for ($k = 0; $k < max(1, $this->count); ++$k) {
            $steps[] = $band->sectionsAt($moving['hz'][$k] ?? $band->hz, $moving['gainDb'][$k] ?? $band->gainDb, $moving['q'][$k] ?? $band->q, $this->timing->sampleRate);
        }

        return $steps ?: [[]];
    }

    /**
     * @param array<int, list<Biquad>> $sections at every step, by their place
     *
     * @return array{StereoBlock, InsertState}
     */
    private function filtered(StereoBlock $in, InsertState $state, array $sections): array
    {
        $numbers = $state->numbers;
        $after = array_fill(0, \count($numbers), 0.0);
        [$left, $right] = [$in->left, $in->right];
        foreach (array_chunk(array_keys($sections), 2) as $pair) {
            $coefficients = [];
            foreach ($sections[$pair[0]] as $k => $a) {
                $b = isset($pair[1]) ? $sections[$pair[1]][$k] : Biquad::through();
                array_push($coefficients, $a->b0, $a->b1, $a->b2, $a->a1, $a->a2, $b->b0, $b->b1, $b->b2, $b->a1, $b->a2);
            }
            $own = static fn (int $n, int $value): float => isset($pair[$n]) ? $numbers[4 * $pair[$n] + $value] : 0.0;
            [$forLeft, $forRight] = [[$own(0, 0), $own(0, 1), $own(1, 0), $own(1, 1)], [$own(0, 2), $own(0, 3), $own(1, 2), $own(1, 3)]];
            $same = $left === $right && $forLeft === $forRight;
            [$left, $l] = BiquadPair::stepped($left, $coefficients, GainCurve::STEP, $forLeft);
            [$right, $r] = $same ? [$left, $l] : BiquadPair::stepped($right, $coefficients, GainCurve::STEP, $forRight);
            foreach ($pair as $n => $place) {
                array_splice($after, 4 * $place, 4, [$l[2 * $n], $l[2 * $n + 1], $r[2 * $n], $r[2 * $n + 1]]);
            }
        }

        return [Gain::onGrid(new StereoBlock($left, $right)), new InsertState(array_values($after))];
    }
}
