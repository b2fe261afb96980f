<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/** Middle and difference: the difference is made larger or smaller, and loses its lows by a high-pass of second order. */
final readonly class Stereo implements Insert
{
    private float $share;
    private float $side;
    private float $left;
    private float $right;

    public function __construct(StereoSettings $settings, float $sampleRate)
    {
        $this->share = $settings->monoHz <= StereoSettings::NOWHERE_HZ ? 0.0 : OnePole::share($settings->monoHz, $sampleRate);
        $this->side = 0.01 * $settings->width;
        $gain = Decibels::toGain($settings->gainDb);
        $this->left = $gain * min(1.0, 1.0 - $settings->balance) * ($settings->turnLeft ? -1.0 : 1.0);
        $this->right = $gain * min(1.0, 1.0 + $settings->balance) * ($settings->turnRight ? -1.0 : 1.0);
    }

    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        if ($in->left === $in->right && $state->equals($this->rest())) {
            return [Gain::onGrid(Gain::sides($in, $this->left, $this->right)), $state, null];
        }
        [$left, $right, $numbers] = self::run($in->left, $in->right, $this->share, $this->side, $this->left, $this->right, Grid::SOUND, ...$state->numbers);

        return [new StereoBlock($left, $right), new InsertState(Grid::state($numbers)), null];
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     *
     * @return array{list<float>, list<float>, list<float>}
     */
    private static function run(array $left, array $right, float $share, float $width, float $a, float $b, float $grid, float $low, float $lower): array
    {
        for ($i = 0, $n = \count($left); $i < $n; ++$i) {
            $x = $left[$i];
            $z = $right[$i];
            if (!\is_float($x) || !\is_float($z)) {
                throw new \TypeError('Sound is floats.');
            }
            $middle = 0.5 * ($x + $z);
            $side = 0.5 * ($x - $z);
            $low += $share * ($side - $low);
            $side -= $low;
            $lower += $share * ($side - $lower);
            $side = ($side - $lower) * $width;
            $left[$i] = (($middle + $side) * $a + $grid) - $grid;
            $right[$i] = (($middle - $side) * $b + $grid) - $grid;
        }

        return [array_values($left), array_values($right), [$low, $lower]];
    }
}
