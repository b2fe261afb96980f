<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;
use Pestle\Core\Signal\IdealPeak;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\SoundRules;

/**
 * Look-ahead limiter to a true-peak ceiling. The gain needed at each peak is held over the
 * look-ahead, released exponentially and averaged over the look-ahead, so that it is down when the
 * peak arrives and never moves abruptly. The sound is not delayed: the caller hands in what comes next.
 * Source: running minimum by D. Lemire, "Streaming maximum-minimum filter" (2006); smoothing by a
 * moving average as in Giannoulis, Massberg and Reiss (JAES 2012).
 */
final readonly class Limiter
{
    /** Frames the gain looks ahead. */
    private const AHEAD = 128;
    /** Frames of the following sound that process() wants. */
    public const NEEDS = self::AHEAD + IdealPeak::REACH;
    /** Gains that are averaged. */
    public const GAINS = self::AHEAD + 1;
    private const RELEASE_SECONDS = 0.09;
    /** What interpolation by four can miss, and what moving gain can add, in dB. */
    private const MARGIN_DB = 0.25;
    /** Share of what lies near half the rate that is kept away from the ceiling beyond what taps reach; by the first rules none. */
    private const UNSEEN = 0.2;

    private float $ceiling;
    private float $release;
    private float $unseen;

    public function __construct(float $ceilingDb, float $sampleRate, float $releaseSeconds = self::RELEASE_SECONDS, SoundRules $rules = SoundRules::NEWEST)
    {
        $this->unseen = SoundRules::First === $rules ? 0.0 : self::UNSEEN;
        $this->ceiling = Decibels::toGain($ceilingDb - self::MARGIN_DB);
        $this->release = 1.0 - exp(-1.0 / ($releaseSeconds * $sampleRate));
    }

    /** @return list<float> state before the first sound: empty, as no gain has been heard that would have to move smoothly */
    public function rest(): array
    {
        return [];
    }

    /**
     * @param StereoBlock $ahead the NEEDS frames that follow $block
     * @param list<float> $state the last frames of both sides, then the gains being averaged (none when all are 1)
     *
     * @return array{list<float>|null, list<float>} a gain for every frame, null for 1 throughout, and the state after it
     */
    public function gain(StereoBlock $block, StereoBlock $ahead, array $state): array
    {
        $frames = $block->frames();
        $before = IdealPeak::REACH;
        $first = [] === $state;
        $state = $first ? array_fill(0, 2 * $before, 0.0) : $state;
        $tail = [...self::last($block->left, $state, 0), ...self::last($block->right, $state, $before)];
        $held = \array_slice($state, 2 * $before);
        if ([] === $held && max($block->peak(), $ahead->peak(), Peak::of($state)) * IdealPeak::GAIN <= $this->ceiling) {
            return [null, Grid::state($tail)];
        }
        $sides = [[...\array_slice($state, 0, $before), ...$block->left, ...$ahead->left]];
        if ($block->left !== $block->right || $ahead->left !== $ahead->right || \array_slice($state, 0, $before) !== \array_slice($state, $before, $before)) {
            $sides[] = [...\array_slice($state, $before, $before), ...$block->right, ...$ahead->right];
        }
        $peaks = IdealPeak::peaks($sides, $this->ceiling, $this->unseen);
        if ([] === $held && Peak::of($peaks) <= $this->ceiling) {
            return [null, Grid::state($tail)];
        }
        $needed = self::heldAhead($peaks, $frames, self::AHEAD, $this->ceiling);
        $history = [] === $held ? array_fill(0, self::AHEAD + 1, $first ? $needed[0] : 1.0) : $held;
        [$gains, $history] = self::smoothed($needed, $history, self::AHEAD + 1, $this->release, $history[self::AHEAD]);

        return [$gains, Grid::state([] !== $history && 1.0 === min($history) ? $tail : [...$tail, ...$history])];
    }

    /**
     * Running minimum of the gain needed over each frame and the AHEAD after it.
     *
     * @param list<float> $peaks frames + AHEAD values
     *
     * @return list<float>
     */
    private static function heldAhead(array $peaks, int $frames, int $ahead, float $ceiling): array
    {
        $queue = [];
        $head = $tail = 0;
        $out = array_fill(0, $frames, 1.0);
        foreach ($peaks as $i => $peak) {
            if (!\is_float($peak)) {
                throw new \TypeError('Peaks are floats.');
            }
            if ($peak > $ceiling) {
                while ($tail > $head && $peaks[$queue[$tail - 1]] <= $peak) {
                    --$tail;
                }
                $queue[$tail] = $i;
                ++$tail;
            }
            $at = $i - $ahead;
            if ($tail > $head && $at >= 0 && $at < $frames) {
                if ($queue[$head] < $at) {
                    ++$head;
                }
                if ($tail > $head) {
                    $out[$at] = $ceiling / $peaks[$queue[$head]];
                }
            }
        }

        return array_values($out);
    }

    /**
     * @param list<float> $needed
     * @param list<float> $history the AHEAD + 1 released gains before
     *
     * @return array{list<float>, list<float>}
     */
    private static function smoothed(array $needed, array $history, int $size, float $release, float $released): array
    {
        $sum = array_sum($history);
        $scale = 1.0 / $size;
        $all = [...$history, ...$needed];
        foreach ($needed as $i => $need) {
            $old = $all[$i];
            if (!\is_float($need) || !\is_float($old)) {
                throw new \TypeError('Gains are floats.');
            }
            $released = (1.0 - $released) * $release + $released;
            if ($released > 0.9999999) {
                $released = 1.0;
            }
            if ($need < $released) {
                $released = $need;
            }
            $all[$i + $size] = $released;
            $sum = $released - $old + $sum;
            $needed[$i] = $sum * $scale;
        }

        return [$needed, \array_slice($all, -$size)];
    }

    /**
     * The BEFORE last values of a side, reaching back into the state when the block is short.
     *
     * @param list<float> $signal
     * @param list<float> $state
     *
     * @return list<float>
     */
    private static function last(array $signal, array $state, int $at): array
    {
        $before = IdealPeak::REACH;

        return \count($signal) >= $before
            ? \array_slice($signal, -$before)
            : \array_slice([...\array_slice($state, $at, $before), ...$signal], -$before);
    }
}
