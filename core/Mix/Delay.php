<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\SoundRules;

/**
 * A line for each side that is fed by the sound and by itself, through a low-pass and a high-pass of first order: every
 * echo is duller and thinner than the one before. From side to side the sound goes into the left line, and each line
 * feeds the other. What goes round is cut to the grid towards nothing, so that it ends.
 */
final readonly class Delay implements Insert
{
    private const RELEASE_SECONDS = 0.25;
    /** Level at which echoes have stepped back wholly. */
    private const LOUD = 0.25;

    private int $frames;
    private float $wet;
    private float $dry;
    private float $feedback;
    private float $dull;
    private float $thin;
    private float $back;
    private float $release;
    private bool $bends;

    public function __construct(private DelaySettings $settings, Timing $timing)
    {
        $this->frames = max(1, (int) round($settings->apart($timing->tempo) * $timing->sampleRate));
        $this->bends = null !== $timing->moving && !$settings->time->isFree();
        // Even power: half of each is a little softer than both alone.
        $this->wet = sin(0.005 * \M_PI * $settings->mix);
        $this->dry = cos(0.005 * \M_PI * $settings->mix);
        $this->feedback = 0.01 * $settings->feedback;
        // At the ends of their ranges both filters are out of the way: what comes again is what came.
        $open = SoundRules::First !== $timing->rules;
        $this->dull = $open && $settings->highCutHz >= DelaySettings::HIGHEST_HZ ? 1.0 : OnePole::share($settings->highCutHz, $timing->sampleRate);
        $this->thin = $open && $settings->lowCutHz <= DelaySettings::LOWEST_HZ ? 0.0 : OnePole::share($settings->lowCutHz, $timing->sampleRate);
        $this->back = 1.0 - Decibels::toGain(-$settings->duckDb);
        $this->release = exp(-1.0 / (self::RELEASE_SECONDS * $timing->sampleRate));
    }

    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0, 0.0, 0.0, 0.0]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $memory = $state->memory ?? Memory::none($this->frames);
        $memory = $this->bends ? $memory->bent($this->frames) : $memory->of($this->frames);
        $known = min($this->frames, $in->frames());
        [$left, $right, $a, $b, $numbers] = self::run(
            $in->left, $in->right, $memory->read(0, 0, $known), $memory->read(1, 0, $known), $this->settings->sides, $this->wet, $this->dry, $this->feedback, $this->dull, $this->thin,
            $this->back, $this->release, 1.0 / self::LOUD, Grid::SOUND, Memory::STEP, ...$state->numbers,
        );
        $numbers = Grid::state($numbers);
        $memory = $memory->followedBy([\array_slice($a, $known), \array_slice($b, $known)]);

        return [new StereoBlock($left, $right), new InsertState(Peak::of($numbers) < 1e-8 ? $this->rest()->numbers : $numbers, $memory), null];
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     * @param list<float> $a     what comes out of the left line first; what goes into it is added
     * @param list<float> $b     likewise of the right
     *
     * @return array{list<float>, list<float>, list<float>, list<float>, list<float>}
     */
    private static function run(
        array $left, array $right, array $a, array $b, bool $sides, float $wet, float $dry, float $feedback, float $dull, float $thin,
        float $back, float $release, float $loud, float $grid, float $step, float $la, float $ha, float $lb, float $hb, float $level,
    ): array {
        $scale = 1.0 / $step;
        for ($i = 0, $n = \count($left); $i < $n; ++$i) {
            $x = $left[$i];
            $z = $right[$i];
            $p = $a[$i];
            $q = $b[$i];
            if (!\is_float($x) || !\is_float($z) || !\is_float($p) || !\is_float($q)) {
                throw new \TypeError('Sound is floats.');
            }
            $la += $dull * ($p - $la);
            $ha += $thin * ($la - $ha);
            $lb += $dull * ($q - $lb);
            $hb += $thin * ($lb - $hb);
            $p = $la - $ha;
            $q = $lb - $hb;
            if ($sides) {
                $a[] = (int) ((0.5 * ($x + $z) + $feedback * $q) * $scale) * $step;
                $b[] = (int) ($feedback * $p * $scale) * $step;
            } else {
                $a[] = (int) (($x + $feedback * $p) * $scale) * $step;
                $b[] = (int) (($z + $feedback * $q) * $scale) * $step;
            }
            $level *= $release;
            $h = $x < 0.0 ? -$x : $x;
            $level = $h > $level ? $h : $level;
            $h = $z < 0.0 ? -$z : $z;
            $level = $h > $level ? $h : $level;
            $h = $level * $loud;
            $h = $wet * (1.0 - $back * ($h > 1.0 ? 1.0 : $h));
            $left[$i] = ($dry * $x + $h * $p + $grid) - $grid;
            $right[$i] = ($dry * $z + $h * $q + $grid) - $grid;
        }

        return [array_values($left), array_values($right), array_values($a), array_values($b), [$la, $ha, $lb, $hb, $level]];
    }
}
