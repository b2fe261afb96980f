<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;

/** Gains that follow a sine: of both sides, of one against the other, or of so many turns a second that they are a tone themselves. */
final readonly class Tremolo implements Insert
{
    private float $turns;
    private float $phase;
    private float $depth;

    public function __construct(private TremoloSettings $settings, Timing $timing)
    {
        $this->turns = TremoloStyle::Ring === $settings->style ? $timing->turns($settings->ringHz) : $settings->turns($timing);
        $this->phase = TremoloStyle::Ring === $settings->style ? 0.0 : 0.25 + $settings->phase($timing);
        $this->depth = 0.01 * $settings->depth;
    }

    public function rest(): InsertState
    {
        return new InsertState([]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $wave = Wave::sine($at, $in->frames(), $this->turns, $this->phase);
        // Level goes from 1 down; a place moves both ways; a ring is the tone itself as far as it is deep.
        [$middle, $left, $right] = match ($this->settings->style) {
            TremoloStyle::Level => [1.0 - 0.5 * $this->depth, 0.5 * $this->depth, 0.5 * $this->depth],
            TremoloStyle::Place => [1.0 - 0.5 * $this->depth, 0.5 * $this->depth, -0.5 * $this->depth],
            TremoloStyle::Ring => [1.0 - $this->depth, $this->depth, $this->depth],
        };
        $sound = self::moved($in->left, $wave, $middle, $left, Grid::SOUND);

        return [new StereoBlock($sound, $left === $right && $in->left === $in->right ? $sound : self::moved($in->right, $wave, $middle, $right, Grid::SOUND)), $state, null];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $wave
     *
     * @return list<float>
     */
    private static function moved(array $signal, array $wave, float $middle, float $depth, float $grid): array
    {
        foreach ($signal as $i => $x) {
            $signal[$i] = ($x * ($middle + $depth * $wave[$i]) + $grid) - $grid;
        }

        return $signal;
    }
}
