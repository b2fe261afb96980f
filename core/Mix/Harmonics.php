<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/**
 * A band of the sound through a curve at eight times its rate (Saturator), cut to its overtones and added. Lows are bent
 * beside the curve's middle, so that they get even overtones too: from those the ear makes up the tone that a small
 * speaker leaves out. Source: E. Larsen and R. M. Aarts, "Audio Bandwidth Extension" (Wiley 2004), chapters 2 and 4.
 */
final readonly class Harmonics implements Insert
{
    /** Values of state of the two sections before the curve, and of the two behind it. */
    private const FILTERS = 4;
    private const BIAS = 0.3;
    /** From and up to where overtones of lows are kept, in times of the highest of them. */
    private const FROM = 1.2;
    private const UP_TO = 6.0;

    private Saturator $saturator;
    /** @var array{Biquad, Biquad} */
    private array $before;
    /** @var array{Biquad, Biquad} */
    private array $behind;

    public function __construct(HarmonicsSettings $settings, float $sampleRate)
    {
        $drive = Decibels::toGain($settings->driveDb);
        $deep = HarmonicsStyle::Deep === $settings->style;
        $this->saturator = new Saturator(Saturator::SOFT, $drive, $deep ? self::BIAS : 0.0, 0.0, Decibels::toGain($settings->addedDb) / sqrt($drive));
        // Butterworth of fourth order before the curve.
        [$first, $second] = EqSlope::TwentyFour->qualities(0.71);
        if ($deep) {
            $this->before = [Biquad::lowPass($settings->hz, $first, $sampleRate), Biquad::lowPass($settings->hz, $second, $sampleRate)];
            $this->behind = [Biquad::highPass(self::FROM * $settings->hz, 0.71, $sampleRate), Biquad::lowPass(min(0.45 * $sampleRate, self::UP_TO * $settings->hz), 0.71, $sampleRate)];
        } else {
            $this->before = [Biquad::highPass($settings->hz, $first, $sampleRate), Biquad::highPass($settings->hz, $second, $sampleRate)];
            $this->behind = [Biquad::highPass($settings->hz, 0.71, $sampleRate), Biquad::through()];
        }
    }

    public function rest(): InsertState
    {
        $filters = array_fill(0, self::FILTERS, 0.0);
        $side = [...$filters, ...$this->saturator->rest(), ...$filters];

        return new InsertState([...$side, ...$side]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $half = intdiv(\count($state->numbers), 2);
        [$forLeft, $forRight] = [\array_slice($state->numbers, 0, $half), \array_slice($state->numbers, $half)];
        [$left, $l] = $this->side($in->left, $forLeft);
        [$right, $r] = $in->left === $in->right && $forLeft === $forRight ? [$left, $l] : $this->side($in->right, $forRight);

        return [new StereoBlock($left, $right), new InsertState([...$l, ...$r]), null];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $state
     *
     * @return array{list<float>, list<float>}
     */
    private function side(array $signal, array $state): array
    {
        [$a, $b, $c, $d] = \array_slice($state, 0, self::FILTERS);
        [$band, $before] = BiquadPair::filter($signal, $this->before[0], $this->before[1], [$a, $b, $c, $d]);
        [$bent, $own] = $this->saturator->through($band, \array_slice($state, self::FILTERS, -self::FILTERS));
        [$a, $b, $c, $d] = \array_slice($state, -self::FILTERS);
        [$added, $behind] = BiquadPair::filter($bent, $this->behind[0], $this->behind[1], [$a, $b, $c, $d]);

        return [self::sum($signal, $added, Grid::SOUND), Grid::state([...$before, ...$own, ...$behind])];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $added
     *
     * @return list<float>
     */
    private static function sum(array $signal, array $added, float $grid): array
    {
        $out = [];
        foreach ($signal as $i => $x) {
            $out[] = (($x + $added[$i]) + $grid) - $grid;
        }

        return $out;
    }
}
