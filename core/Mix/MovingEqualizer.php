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
     * @param \Closure(int): EqualizerSettings $step  as it is set at a step
     * @param int                              $count steps of the segment
     */
    public function __construct(private \Closure $step, private int $count, private Timing $timing)
    {
        $this->stepwise = new MovingInserts(static fn (int $k): FixedInserts => new FixedInserts([$step($k)], $timing), $count);
    }

    public function rest(): array
    {
        return $this->stepwise->rest();
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed
    {
        $steps = $this->sections();
        if (null === $steps) {
            return $this->stepwise->process($in, $frames, $keys, $states, $at);
        }
        [$sound, $state] = $this->filtered($in ?? StereoBlock::silence($frames), $states[0], $steps);

        return new Processed($sound, [$state], []);
    }

    public function part(StereoBlock $in, array $states, array $gains, int $at): array
    {
        $steps = $this->sections();
        if (null === $steps) {
            return $this->stepwise->part($in, $states, $gains, $at);
        }
        [$sound, $state] = $this->filtered($in, $states[0], $steps);

        return [$sound, [$state]];
    }

    /** @return non-empty-list<array<int, Biquad>>|null for each step the sections that act, by their place; null where they are not the same ones all along */
    private function sections(): ?array
    {
        /** @var \WeakMap<EqBand, list<Biquad>> $known */
        $known = new \WeakMap();
        $steps = [];
        for ($k = 0; $k < $this->count; ++$k) {
            $settings = ($this->step)($k);
            $sections = [];
            foreach ($settings->bands as $i => $band) {
                foreach ($band->isActive() ? $known[$band] ??= $band->sections($this->timing->sampleRate) : [] as $n => $section) {
                    $sections[EqSlope::MOST_SECTIONS * $i + $n] = $section;
                }
            }
            if ([] === $sections || !$settings->acts() || $settings->share() < 1.0 || ([] !== $steps && array_keys($steps[0]) !== array_keys($sections))) {
                return null;
            }
            $steps[] = $sections;
        }

        return $steps ?: null;
    }

    /**
     * @param non-empty-list<array<int, Biquad>> $steps
     *
     * @return array{StereoBlock, InsertState}
     */
    private function filtered(StereoBlock $in, InsertState $state, array $steps): array
    {
        $numbers = $state->numbers;
        $after = array_fill(0, \count($numbers), 0.0);
        [$left, $right] = [$in->left, $in->right];
        foreach (array_chunk(array_keys($steps[0]), 2) as $pair) {
            $coefficients = [];
            foreach ($steps as $sections) {
                array_push($coefficients, ...$sections[$pair[0]]->coefficients(), ...($sections[$pair[1] ?? -1] ?? Biquad::through())->coefficients());
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
