<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Interpolation;
use Pestle\Core\Theory\SoundRules;

/**
 * A delay line for each side whose distance follows a sine, read between its values by a windowed sinc; by the first rules
 * by a cubic through four of them, which dulls. A vibrato is heard without the sound itself.
 * Source: J. Dattorro, "Effect design, part 2: delay-line modulation and chorus" (JAES 1997); cubic of Hermite.
 */
final readonly class Chorus implements Insert
{
    /** Values behind the farthest place that are wanted. */
    private const MARGIN = 4;

    private int $memory;
    private float $least;
    private float $range;
    private float $feedback;
    private float $wet;
    private float $dry;
    private float $apart;
    private float $turns;
    private float $phase;
    private bool $cubic;

    public function __construct(ChorusSettings $settings, Timing $timing)
    {
        $perMs = $timing->sampleRate / 1000.0;
        $this->least = $settings->style->leastMs() * $perMs;
        $this->range = 0.005 * $settings->depth * $settings->style->rangeMs() * $perMs;
        $this->memory = (int) ceil($this->least + 2.0 * $this->range) + self::MARGIN;
        $this->feedback = 0.01 * $settings->feedback;
        $vibrato = ChorusStyle::Vibrato === $settings->style;
        $this->wet = $vibrato ? 1.0 : sin(0.005 * \M_PI * $settings->mix);
        $this->dry = $vibrato ? 0.0 : cos(0.005 * \M_PI * $settings->mix);
        $this->apart = 0.0025 * $settings->width;
        [$this->turns, $this->phase] = [$settings->turns($timing), $settings->phase($timing)];
        $this->cubic = SoundRules::First === $timing->rules;
    }

    public function rest(): InsertState
    {
        return new InsertState([]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $memory = ($state->memory ?? Memory::none($this->memory))->of($this->memory);
        $sides = $lines = [];
        foreach ([$in->left, $in->right] as $side => $signal) {
            $wave = Wave::sine($at, $in->frames(), $this->turns, $this->phase + $side * $this->apart);
            $line = $memory->read($side, 0, $this->memory);
            $how = [$this->memory, $this->least + $this->range, $this->range, $this->feedback, $this->wet, $this->dry, Grid::SOUND, Memory::STEP];
            [$sides[], $line] = $this->cubic ? self::byCubic($signal, $line, $wave, ...$how) : self::bySinc($signal, $line, $wave, Interpolation::taps(), Interpolation::PHASES, ...$how);
            $lines[] = \array_slice($line, $this->memory);
        }

        return [new StereoBlock($sides[0], $sides[1]), new InsertState([], $memory->followedBy([$lines[0], $lines[1]])), null];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $line   what is remembered; what goes into it is added
     * @param list<float> $wave
     * @param list<float> $taps   of Interpolation
     *
     * @return array{list<float>, list<float>}
     */
    private static function bySinc(array $signal, array $line, array $wave, array $taps, int $phases, int $memory, float $middle, float $range, float $feedback, float $wet, float $dry, float $grid, float $step): array
    {
        $scale = 1.0 / $step;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            $place = $memory + $i - $middle - $range * $wave[$i];
            $k = (int) $place;
            $t = Interpolation::TAPS * (int) (($place - $k) * $phases + 0.5);
            $a = $line[$k - 3];
            $b = $line[$k - 2];
            $c = $line[$k - 1];
            $d = $line[$k];
            $e = $line[$k + 1];
            $f = $line[$k + 2];
            $g = $line[$k + 3];
            $h = $line[$k + 4];
            if (!\is_float($x) || !\is_float($a) || !\is_float($b) || !\is_float($c) || !\is_float($d) || !\is_float($e) || !\is_float($f) || !\is_float($g) || !\is_float($h)) {
                throw new \TypeError('Sound is floats.');
            }
            $y = $taps[$t] * $a + $taps[$t + 1] * $b + $taps[$t + 2] * $c + $taps[$t + 3] * $d + $taps[$t + 4] * $e + $taps[$t + 5] * $f + $taps[$t + 6] * $g + $taps[$t + 7] * $h;
            $line[] = (int) (($x + $feedback * $y) * $scale) * $step;
            $signal[$i] = ($dry * $x + $wet * $y + $grid) - $grid;
        }

        return [array_values($signal), $line];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $line   what is remembered; what goes into it is added
     * @param list<float> $wave
     *
     * @return array{list<float>, list<float>}
     */
    private static function byCubic(array $signal, array $line, array $wave, int $memory, float $middle, float $range, float $feedback, float $wet, float $dry, float $grid, float $step): array
    {
        $scale = 1.0 / $step;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            $place = $memory + $i - $middle - $range * $wave[$i];
            $k = (int) $place;
            $a = $line[$k - 1];
            $b = $line[$k];
            $c = $line[$k + 1];
            $d = $line[$k + 2];
            if (!\is_float($x) || !\is_float($a) || !\is_float($b) || !\is_float($c) || !\is_float($d)) {
                throw new \TypeError('Sound is floats.');
            }
            $f = $place - $k;
            $y = $b + 0.5 * $f * ($c - $a + $f * (2.0 * $a - 5.0 * $b + 4.0 * $c - $d + $f * (3.0 * ($b - $c) + $d - $a)));
            $line[] = (int) (($x + $feedback * $y) * $scale) * $step;
            $signal[$i] = ($dry * $x + $wet * $y + $grid) - $grid;
        }

        return [array_values($signal), $line];
    }
}
