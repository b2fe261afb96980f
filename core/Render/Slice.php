<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\SoundRules;

/** What a parameter that moves is set to over a segment: a value every GainCurve::STEP frames, and one for its end. */
final readonly class Slice
{
    /** Steps over which a jump slides: 5.1 ms. */
    private const SLIDE = 14;

    /** @param non-empty-list<float> $values */
    private function __construct(public array $values)
    {
    }

    public static function of(Curve $curve, Beat $beat, Segment $segment): ?self
    {
        if (null === $segment->tick) {
            return null;
        }
        $count = 1 + (int) ceil($segment->frames / GainCurve::STEP);
        $ticks = $beat->tempo->exactTicks(GainCurve::STEP / Beat::SAMPLE_RATE);
        if (SoundRules::First === $beat->rules) {
            return new self($curve->values($segment->tick, $ticks, $count));
        }

        return new self(self::slid($curve->values($segment->tick - self::SLIDE * $ticks, $ticks, self::SLIDE + $count), $count));
    }

    /**
     * The mean of each value and those before it: what jumps slides for as long, what stands still is untouched.
     *
     * @param non-empty-list<float> $values with so many before the first that is wanted
     *
     * @return non-empty-list<float>
     */
    private static function slid(array $values, int $count): array
    {
        if (1 === \count(array_unique($values))) {
            return array_fill(0, max(1, $count), $values[0]);
        }
        $slid = [];
        for ($k = 0; $k < $count; ++$k) {
            $slid[] = array_sum(\array_slice($values, $k, 1 + self::SLIDE)) / (1 + self::SLIDE);
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
        return 1 === \count(array_unique($this->values));
    }
}
