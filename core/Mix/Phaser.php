<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Grid;

/**
 * Six all-passes of first order in series, whose place follows a sine over octaves; where they turn the phase by half a
 * turn, what they give and the sound itself cancel out.
 * Source: J. O. Smith, "An allpass approach to digital phasing and flanging" (ICMC 1984).
 */
final readonly class Phaser implements Insert
{
    private const STAGES = 6;
    /** Share of the sample rate that the place may reach. */
    private const HIGHEST = 0.45;

    private float $turns;
    private float $phase;
    private float $apart;
    private float $feedback;
    private float $wet;
    private float $dry;
    private float $low;
    private float $octaves;

    public function __construct(PhaserSettings $settings, Timing $timing)
    {
        [$this->turns, $this->phase] = [$settings->turns($timing), $settings->phase($timing)];
        $this->apart = 0.005 * $settings->width;
        $this->feedback = 0.01 * $settings->feedback;
        $this->wet = 0.01 * $settings->mix;
        $this->dry = 1.0 - $this->wet;
        $this->low = $settings->fromHz / $timing->sampleRate;
        $this->octaves = $settings->octaves;
    }

    public function rest(): InsertState
    {
        return new InsertState(array_fill(0, 2 * (self::STAGES + 1), 0.0));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $sides = $after = [];
        foreach ([$in->left, $in->right] as $side => $signal) {
            $places = $this->coefficients(Wave::sine($at, $in->frames(), $this->turns, $this->phase + $side * $this->apart));
            [$sides[], $own] = self::run($signal, $places, $this->feedback, $this->wet, $this->dry, Grid::SOUND, Biquad::TINY, ...\array_slice($state->numbers, $side * (self::STAGES + 1), self::STAGES + 1));
            array_push($after, ...$own);
        }

        return [new StereoBlock($sides[0], $sides[1]), new InsertState(Grid::state($after)), null];
    }

    /**
     * By a table over the wave, as a tangent a frame would cost more than all else.
     *
     * @param list<float> $wave
     *
     * @return list<float> of the all-passes, a frame each
     */
    private function coefficients(array $wave): array
    {
        $table = [];
        for ($k = 0; $k <= 256; ++$k) {
            $t = tan(\M_PI * min(self::HIGHEST, $this->low * 2.0 ** ($this->octaves * $k / 256)));
            $table[] = ($t - 1.0) / ($t + 1.0);
        }
        $out = [];
        foreach ($wave as $w) {
            $place = 127.999 * (1.0 + $w);
            $k = (int) $place;
            $out[] = $table[$k] + ($place - $k) * ($table[$k + 1] - $table[$k]);
        }

        return $out;
    }

    /**
     * @param list<float> $signal
     * @param list<float> $places
     *
     * @return array{list<float>, list<float>}
     */
    private static function run(array $signal, array $places, float $feedback, float $wet, float $dry, float $grid, float $tiny, float $s1, float $s2, float $s3, float $s4, float $s5, float $s6, float $last): array
    {
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            $a = $places[$i];
            if (!\is_float($x) || !\is_float($a)) {
                throw new \TypeError('Sound is floats.');
            }
            // Transposed: y = a x + s, s = x - a y.
            $y = $x + $feedback * $last + $tiny;
            $z = $a * $y + $s1;
            $s1 = $y - $a * $z;
            $y = $a * $z + $s2;
            $s2 = $z - $a * $y;
            $z = $a * $y + $s3;
            $s3 = $y - $a * $z;
            $y = $a * $z + $s4;
            $s4 = $z - $a * $y;
            $z = $a * $y + $s5;
            $s5 = $y - $a * $z;
            $last = $a * $z + $s6;
            $s6 = $z - $a * $last;
            $signal[$i] = ($dry * $x + $wet * $last + $grid) - $grid;
        }

        return [array_values($signal), [$s1, $s2, $s3, $s4, $s5, $s6, $last]];
    }
}
