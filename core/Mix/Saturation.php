<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/**
 * Drive into a curve (Saturator), a low-pass of first order behind it, and a high-pass at 5 Hz, as what is not even about
 * its middle moves it. Half of the drive, in dB, is taken back.
 */
final readonly class Saturation implements Insert
{
    private const REST_HZ = 5.0;
    /** Values of state of the filters behind it, by side. */
    private const FILTERS = 2;

    private Saturator $saturator;
    private float $tone;
    private float $slow;
    private float $gain;

    public function __construct(SaturationSettings $settings, float $sampleRate)
    {
        $drive = Decibels::toGain($settings->driveDb);
        $wet = 0.01 * $settings->mix;
        $this->saturator = new Saturator($settings->curve->number(), $drive, $settings->curve->bias(), 1.0 - $wet, $wet / sqrt($drive));
        $this->tone = $settings->toneHz >= SaturationSettings::OPEN_HZ ? 1.0 : OnePole::share($settings->toneHz, $sampleRate);
        $this->slow = OnePole::share(self::REST_HZ, $sampleRate);
        $this->gain = Decibels::toGain($settings->outputDb);
    }

    public function rest(): InsertState
    {
        $side = [...$this->saturator->rest(), ...array_fill(0, self::FILTERS, 0.0)];

        return new InsertState([...$side, ...$side]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $half = intdiv(\count($state->numbers), 2);
        [$forLeft, $forRight] = [\array_slice($state->numbers, 0, $half), \array_slice($state->numbers, $half)];
        [$left, $l] = $this->side($in->left, $forLeft);
        if ($in->left === $in->right && $forLeft === $forRight) {
            return [new StereoBlock($left, $left), new InsertState([...$l, ...$l]), null];
        }
        [$right, $r] = $this->side($in->right, $forRight);

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
        [$signal, $own] = $this->saturator->through($signal, \array_slice($state, 0, -self::FILTERS));
        [$signal, $dull, $middle] = self::behind($signal, $this->tone, $this->slow, $this->gain, $state[\count($own)], $state[\count($own) + 1], Grid::SOUND);

        return [$signal, Grid::state([...$own, $dull, $middle])];
    }

    /**
     * @param list<float> $signal
     *
     * @return array{list<float>, float, float}
     */
    private static function behind(array $signal, float $tone, float $slow, float $gain, float $dull, float $middle, float $grid): array
    {
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $dull += $tone * ($x - $dull);
            $middle += $slow * ($dull - $middle);
            $signal[$i] = (($dull - $middle) * $gain + $grid) - $grid;
        }

        return [array_values($signal), $dull, $middle];
    }
}
