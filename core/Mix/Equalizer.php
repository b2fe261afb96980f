<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Grid;

/**
 * Second-order sections in series over both sides, two at a time in one loop (transposed direct form II). Its state has
 * a place for every section a band may have, so that it goes on where one is switched; what does not act is at rest.
 */
final readonly class Equalizer implements Insert
{
    /** Values of state a section: left s1 s2, right s1 s2. */
    private const VALUES = 4;

    /** @param array<int, Biquad> $sections those that act, by their place */
    private function __construct(private int $places, public array $sections)
    {
    }

    /** @param list<EqBand> $bands */
    public static function of(array $bands, float $sampleRate): self
    {
        $sections = [];
        foreach ($bands as $i => $band) {
            foreach ($band->sections($sampleRate) as $k => $section) {
                $sections[EqSlope::MOST_SECTIONS * $i + $k] = $section;
            }
        }

        return new self(EqSlope::MOST_SECTIONS * \count($bands), $sections);
    }

    public function rest(): InsertState
    {
        return new InsertState(array_fill(0, self::VALUES * $this->places, 0.0));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$sound, $sections] = $this->filter($in, $this->sections, $this->stateOf($this->sections, $state));

        return [Gain::onGrid($sound), $this->withState($this->rest(), $this->sections, Grid::state($sections)), null];
    }

    /**
     * Goes through a compressor as well, which takes the last two sections into its own loop: passing arrays along costs
     * as much as the arithmetic.
     *
     * @param InsertState $follower state of the compressor
     *
     * @return array{StereoBlock, InsertState, InsertState, GainCurve} sound, both states, gain
     */
    public function into(Compressor $compressor, StereoBlock $in, InsertState $state, InsertState $follower): array
    {
        $first = \array_slice($this->sections, 0, -2, true);
        $last = \array_slice($this->sections, -2, null, true);
        [$sound, $next] = [] === $first ? [$in, []] : $this->filter($in, $first, $this->stateOf($first, $state));
        [$sound, $after, $curve] = $compressor->through(array_values($last), $sound, [...$this->stateOf($last, $state), ...$follower->numbers]);
        $count = self::VALUES * \count($last);
        $state = $this->withState($this->withState($this->rest(), $first, Grid::state($next)), $last, \array_slice($after, 0, $count));

        return [$sound, $state, new InsertState(\array_slice($after, $count)), $curve];
    }

    /**
     * The state of some sections, one after another.
     *
     * @param array<int, Biquad> $sections
     *
     * @return list<float>
     */
    public function stateOf(array $sections, InsertState $state): array
    {
        $own = [];
        foreach (array_keys($sections) as $place) {
            array_push($own, ...\array_slice($state->numbers, self::VALUES * $place, self::VALUES));
        }

        return $own;
    }

    /**
     * @param array<int, Biquad> $sections
     * @param list<float>        $own      as stateOf()
     */
    public function withState(InsertState $state, array $sections, array $own): InsertState
    {
        $numbers = $state->numbers;
        foreach (array_keys($sections) as $k => $place) {
            array_splice($numbers, self::VALUES * $place, self::VALUES, \array_slice($own, self::VALUES * $k, self::VALUES));
        }

        return new InsertState($numbers);
    }

    /**
     * @param array<int, Biquad> $sections
     * @param list<float>        $state    of those
     *
     * @return array{StereoBlock, list<float>}
     */
    private function filter(StereoBlock $block, array $sections, array $state): array
    {
        [$left, $right] = [$block->left, $block->right];
        $sections = array_values($sections);
        $next = [];
        for ($i = 0, $n = \count($sections); $i < $n; $i += 2) {
            $s = array_pad(\array_slice($state, self::VALUES * $i, 2 * self::VALUES), 2 * self::VALUES, 0.0);
            [$a, $b] = [$sections[$i], $sections[$i + 1] ?? Biquad::through()];
            [$forLeft, $forRight] = [[$s[0], $s[1], $s[4], $s[5]], [$s[2], $s[3], $s[6], $s[7]]];
            $same = $left === $right && $forLeft === $forRight;
            [$left, $l] = BiquadPair::filter($left, $a, $b, $forLeft);
            [$right, $r] = $same ? [$left, $l] : BiquadPair::filter($right, $a, $b, $forRight);
            array_push($next, $l[0], $l[1], $r[0], $r[1], $l[2], $l[3], $r[2], $r[3]);
        }

        return [new StereoBlock($left, $right), \array_slice($next, 0, \count($state))];
    }
}
