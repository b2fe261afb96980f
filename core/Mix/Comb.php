<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\StateVariable;
use Pestle\Core\Theory\SoundRules;

/**
 * A feedback comb: what comes out comes back once a period of its note, so that it rings there and at all multiples.
 * y[n] = x[n] + g y[n - d], brought down so that its teeth are as high as their mean is loud; d between samples by a line.
 * Source: J. O. Smith, "Physical Audio Signal Processing" (2010), feedback comb filters.
 */
final readonly class Comb implements Insert
{
    private const LOWEST_HZ = 20.0;
    private const MOST_BACK = 0.98;

    private Sweep $sweep;
    private float $back;
    /** Frames that are remembered. */
    private int $longest;

    public function __construct(private FilterSettings $settings, private Timing $timing)
    {
        $this->sweep = new Sweep($settings, $timing);
        $this->back = self::MOST_BACK * sqrt($settings->resonance);
        $this->longest = (int) ceil($timing->sampleRate / self::LOWEST_HZ) + 2;
    }

    /** The follower, and the period it was at last, 0 for none; and what came out, by side. */
    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0], Memory::none($this->longest));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$octaves, $level] = $this->sweep->octaves($in, $at, $state->numbers[0]);
        $last = $state->numbers[1] ?? 0.0;
        $rate = $this->timing->sampleRate;
        $delays = array_map(fn (float $o): float => $rate / max(self::LOWEST_HZ, min(0.25 * $rate, $this->settings->cutoffHz * 2.0 ** $o)), $octaves);
        $memory = ($state->memory ?? Memory::none($this->longest))->of($this->longest);
        $before = [$memory->read(0, 0, $this->longest), $memory->read(1, 0, $this->longest)];
        $left = $this->side($in->left, $before[0], $delays, $last);
        $right = $in->left === $in->right && $before[0] === $before[1] ? $left : $this->side($in->right, $before[1], $delays, $last);
        $wet = 0.01 * $this->settings->mix;
        $scale = $wet * sqrt(1.0 - $this->back * $this->back);
        $sound = Gain::sum([$in, new StereoBlock($left, $right)], $in->frames(), [[1.0 - $wet, 1.0 - $wet], [$scale, $scale]]);

        // What rings no more has no period it would go on from.
        $last = Peak::of($left) > 0.0 || Peak::of($right) > 0.0 ? end($delays) : 0.0;

        return [$sound, new InsertState(Grid::state([$level, $last ?: 0.0]), $memory->followedBy([$left, $right])), null];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $before what came out before it
     * @param list<float> $delays frames, for every StateVariable::STEP
     * @param float       $last   frames before them, 0 for none
     *
     * @return list<float> multiples of Memory::STEP
     */
    private function side(array $signal, array $before, array $delays, float $last): array
    {
        $all = $before;
        $at = \count($before);
        $step = Memory::STEP;
        $back = $this->back;
        $slides = SoundRules::First !== $this->timing->rules;
        $delay = $slope = 0.0;
        foreach ($signal as $i => $x) {
            if (0 === ($i & 15)) {
                // From period to period evenly: in steps it would buzz.
                $delay = $slides && $last > 0.0 ? $last : $delays[$i >> 4];
                $last = $delays[$i >> 4];
                $slope = ($last - $delay) / StateVariable::STEP;
            }
            $delay += $slope;
            $place = $at + $i - $delay;
            $whole = (int) $place;
            $part = $place - $whole;
            $all[] = (int) (($x + $back * ($all[$whole] + $part * ($all[$whole + 1] - $all[$whole]))) / $step) * $step;
        }

        return \array_slice($all, $at);
    }
}
