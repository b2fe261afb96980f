<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\SoundRules;

/**
 * Two followers of the level, one quick to rise, one slow: how far apart they are in decibels is the attack; two that rise
 * alike and fall quickly and slowly give the tail. Neither depends on how loud the sound is. They follow the highest peak of
 * the last half period of the lowest tone; by the first rules each peak by itself, so that every swing of a bass was an attack.
 */
final readonly class Transients implements Insert
{
    private const QUICK_MS = 1.0;
    private const SLOW_MS = 25.0;
    private const FALL_MS = 60.0;
    private const LONG_MS = 300.0;
    /** Below this nothing is an attack. */
    private const FLOOR = 1e-4;
    /** Nepers at most. */
    private const MOST = 1.75;
    /** Half a period of 29 Hz: peaks are held for one to two of these. */
    private const HELD_MS = 17.3;

    private float $quick;
    private float $slow;
    private float $fall;
    private float $long;
    private float $attack;
    private float $sustain;
    private float $level;
    /** Steps of a hold; 0 where none is. */
    private int $steps;

    public function __construct(TransientsSettings $settings, Timing $timing)
    {
        $sampleRate = $timing->sampleRate;
        $this->steps = SoundRules::First === $timing->rules ? 0 : (int) ceil(0.001 * self::HELD_MS * $sampleRate / GainCurve::STEP);
        $share = static fn (float $ms): float => 1.0 - exp(-GainCurve::STEP * 1000.0 / ($ms * $sampleRate));
        [$this->quick, $this->slow, $this->fall, $this->long] = [$share(self::QUICK_MS), $share(self::SLOW_MS), $share(self::FALL_MS), $share(self::LONG_MS)];
        $this->attack = 0.01 * $settings->attack;
        $this->sustain = 0.01 * $settings->sustain;
        [$this->level] = Grid::state([Decibels::toGain($settings->outputDb)]);
    }

    /** Followers: quick and slow to rise, quick and slow to fall; the gain and where it is going; the highest peak of the hold before, of this one, and its steps. */
    public function rest(): InsertState
    {
        return new InsertState([0.0, 0.0, 0.0, 0.0, $this->level, $this->level, ...(0 === $this->steps ? [] : [0.0, 0.0, 0.0])]);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$quick, $slow, $short, $long, $gain, $target] = $state->numbers;
        [$before, $highest, $step] = [...\array_slice($state->numbers, 6), 0.0, 0.0, 0.0];
        $start = $gain;
        $targets = [];
        for ($i = 0, $n = $in->frames(); $i < $n; $i += GainCurve::STEP) {
            $targets[] = $target;
            $gain = $target;
            $level = max(Peak::of(\array_slice($in->left, $i, GainCurve::STEP)), Peak::of(\array_slice($in->right, $i, GainCurve::STEP)));
            if ($this->steps > 0) {
                $highest = max($highest, $level);
                $level = max($before, $highest);
                // In silence it waits for the next sound.
                if (0.0 === $level) {
                    $step = 0.0;
                } elseif (++$step >= $this->steps) {
                    [$before, $highest, $step] = [$highest, 0.0, 0.0];
                }
            }
            $quick += ($level - $quick) * ($level > $quick ? $this->quick : $this->fall);
            $slow += ($level - $slow) * ($level > $slow ? $this->slow : $this->fall);
            $short += ($level - $short) * ($level > $short ? $this->quick : $this->fall);
            $long += ($level - $long) * ($level > $long ? $this->quick : $this->long);
            $rise = log(($quick + self::FLOOR) / ($slow + self::FLOOR));
            $tail = log(($long + self::FLOOR) / ($short + self::FLOOR));
            $target = $this->level * exp(max(-self::MOST, min(self::MOST, $this->attack * max(0.0, $rise) + $this->sustain * max(0.0, $tail))));
        }
        $curve = new GainCurve($start, $targets, $this->level);
        $after = Grid::state([$quick, $slow, $short, $long, $gain, $target, ...(0 === $this->steps ? [] : [$before, $highest, $step])]);

        return [Gain::along($in, $curve), Peak::of([...\array_slice($after, 0, 4), ...\array_slice($after, 6, 2)]) < 1e-6 ? $this->rest() : new InsertState($after), $curve];
    }
}
