<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;

/**
 * A value is taken every so often, rounded to few steps and held until the next. What folds back is wanted here; a
 * low-pass of first order before it takes as much of it away as is wished.
 */
final readonly class OldConverter implements Insert
{
    private float $step;
    private float $steps;
    private float $share;
    private float $wet;

    public function __construct(OldConverterSettings $settings, float $sampleRate)
    {
        $this->step = min(1.0, $settings->rateHz / $sampleRate);
        $this->steps = 2.0 ** ($settings->bits - 1.0);
        $open = OnePole::share(min(0.45 * $sampleRate, 0.3 * $settings->rateHz), $sampleRate);
        $this->share = 1.0 - 0.01 * $settings->clean * (1.0 - $open);
        $this->wet = 0.01 * $settings->mix;
    }

    /** How far it is to the next value; what is held and how dull it is, by side. */
    public function rest(): InsertState
    {
        return new InsertState([1.0, 0.0, 0.0, 0.0, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$place, $a, $b, $c, $d] = $state->numbers;
        [$left, $next, $a, $b] = self::run($in->left, $this->step, $this->steps, $this->share, $this->wet, $place, $a, $b, Grid::SOUND);
        [$right, $next, $c, $d] = self::run($in->right, $this->step, $this->steps, $this->share, $this->wet, $place, $c, $d, Grid::SOUND);
        [$a, $b, $c, $d] = Grid::state([$a, $b, $c, $d]);

        return [new StereoBlock($left, $right), 0.0 === $a && 0.0 === $b && 0.0 === $c && 0.0 === $d ? $this->rest() : new InsertState([$next, $a, $b, $c, $d]), null];
    }

    /**
     * @param list<float> $signal
     *
     * @return array{list<float>, float, float, float}
     */
    private static function run(array $signal, float $step, float $steps, float $share, float $wet, float $place, float $held, float $dull, float $grid): array
    {
        // Rounded by adding what has no room for less than a step.
        $scale = 1.0 / $steps;
        $dry = 1.0 - $wet;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $dull += $share * ($x - $dull);
            if ($place >= 1.0) {
                $place -= 1.0;
                $held = (($dull * $steps + 6755399441055744.0) - 6755399441055744.0) * $scale;
            }
            $place += $step;
            $signal[$i] = ($dry * $x + $wet * $held + $grid) - $grid;
        }

        return [array_values($signal), $place, $held, $dull];
    }
}
