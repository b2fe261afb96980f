<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Song\Movement;
use Pestle\Core\Theory\SoundRules;

/** What a parameter that moves is set to over a segment: a value every GainCurve::STEP frames, and one for its end. */
final readonly class Slice
{
    /** @param non-empty-list<float> $values */
    private function __construct(public array $values)
    {
    }

    /**
     * @param non-empty-list<Movement> $movements of one parameter, the innermost first: the first that says something is heard
     * @param float                    $set       what it is set to where none does
     *
     * @return self|null null where none does all along
     */
    public static function of(array $movements, float $set, Beat $beat, Segment $segment): ?self
    {
        if (null === $segment->place) {
            return null;
        }
        $count = 1 + (int) ceil($segment->frames / GainCurve::STEP);
        $ticks = null === $segment->time ? $beat->tempo->exactTicks(GainCurve::STEP / Beat::SAMPLE_RATE) : GainCurve::STEP * $segment->time->ticksAFrame;
        $smooths = array_map(static fn (Movement $m): int => SoundRules::First === $beat->rules ? 0 : self::steps($m->smoothMs), $movements);
        $before = max($smooths);
        $values = $reach = [];
        $says = false;
        $from = $segment->place->later(-$before * $ticks);
        $steady = $from->steady($movements[0], ($before + $count) * $ticks);
        if (null !== $steady && $before === $smooths[0]) {
            // The innermost says something all along, and its time goes on evenly: nearly always.
            return new self(self::slid($movements[0]->curve->values($steady, $ticks, $before + $count), array_fill(0, $before + $count, $before), $before));
        }
        for ($k = 0; $k < $before + $count; ++$k) {
            $value = $set;
            $smooth = min($smooths);
            foreach ($movements as $i => $movement) {
                $tick = $from->tick($movement, $k * $ticks);
                if (null !== $tick) {
                    $value = $movement->curve->at($tick);
                    $smooth = $smooths[$i];
                    $says = true;
                    break;
                }
            }
            $values[] = $value;
            $reach[] = $smooth;
        }

        return $says ? new self(self::slid($values, $reach, $before)) : null;
    }

    /** @return int steps that a value is smoothed over */
    private static function steps(float $ms): int
    {
        return (int) round($ms * Beat::SAMPLE_RATE / 1000.0 / GainCurve::STEP);
    }

    /**
     * The mean of each value and those before it: what jumps slides for as long, what stands still is untouched.
     *
     * @param non-empty-list<float> $values
     * @param list<int>             $reach  how many before each
     * @param int                   $first  the first that is wanted
     *
     * @return non-empty-list<float>
     */
    private static function slid(array $values, array $reach, int $first): array
    {
        $count = \count($values) - $first;
        if (self::areSame($values)) {
            return array_fill(0, max(1, $count), $values[0]);
        }
        $slid = [];
        for ($k = $first, $n = $first + $count; $k < $n; ++$k) {
            $slid[] = array_sum(\array_slice($values, $k - $reach[$k], 1 + $reach[$k])) / (1 + $reach[$k]);
        }

        return $slid ?: [$values[0]];
    }

    /** @return non-empty-list<float> of what does not move */
    public static function still(float $value, int $frames): array
    {
        return array_fill(0, max(1, 1 + (int) ceil($frames / GainCurve::STEP)), $value);
    }

    public function isStill(): bool
    {
        return self::areSame($this->values);
    }

    /** @param non-empty-list<float> $values whether they are one, so far as numbers are written */
    public static function areSame(array $values): bool
    {
        [$first] = $values;
        foreach ($values as $value) {
            if ($value !== $first && (string) $value !== (string) $first) {
                return false;
            }
        }

        return true;
    }
}
