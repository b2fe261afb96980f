<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Theory\Curve;

/** What a parameter that moves is set to over a segment: a value every GainCurve::STEP frames, and one for its end. */
final readonly class Slice
{
    /** @param non-empty-list<float> $values */
    private function __construct(public array $values)
    {
    }

    public static function of(Curve $curve, Beat $beat, Segment $segment): ?self
    {
        if (null === $segment->tick) {
            return null;
        }
        $steps = (int) ceil($segment->frames / GainCurve::STEP);

        return new self($curve->values($segment->tick, $beat->tempo->exactTicks(GainCurve::STEP / Beat::SAMPLE_RATE), $steps + 1));
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
