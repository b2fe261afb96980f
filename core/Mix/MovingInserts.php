<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** Inserts whose settings move: every GainCurve::STEP frames they are set anew, their state goes on. */
final readonly class MovingInserts implements Inserts
{
    /** @param non-empty-list<FixedInserts> $steps one for every step of the segment */
    public function __construct(private array $steps)
    {
    }

    public function rest(): array
    {
        return $this->steps[0]->rest();
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $state): Processed
    {
        $parts = [];
        $curves = [];
        foreach ($this->steps as $k => $inserts) {
            [$at, $count] = self::step($k, $frames);
            $own = array_map(static fn (StereoBlock $key): StereoBlock => $key->slice($at, $count), $keys);
            $done = $inserts->process($in?->slice($at, $count), $count, $own, $state);
            $state = $done->state;
            $parts[] = $done->sound ?? StereoBlock::silence($count);
            foreach ($done->curves as $i => $curve) {
                $curves[$i][] = $curve;
            }
        }

        return new Processed(self::joined($parts), $state, array_map(GainCurve::joined(...), $curves));
    }

    public function part(StereoBlock $in, array $state, array $gains): array
    {
        $parts = [];
        foreach ($this->steps as $k => $inserts) {
            [$at, $count] = self::step($k, $in->frames());
            [$parts[], $state] = $inserts->part($in->slice($at, $count), $state, array_map(static fn (array $all): array => \array_slice($all, $at, $count), $gains));
        }

        return [self::joined($parts), $state];
    }

    /** @return array{int, int} first frame and frames */
    private static function step(int $k, int $frames): array
    {
        return [$k * GainCurve::STEP, min(GainCurve::STEP, $frames - $k * GainCurve::STEP)];
    }

    /** @param non-empty-list<StereoBlock> $parts */
    private static function joined(array $parts): StereoBlock
    {
        $left = array_merge(...array_map(static fn (StereoBlock $b): array => $b->left, $parts));
        $right = array_merge(...array_map(static fn (StereoBlock $b): array => $b->right, $parts));

        return new StereoBlock($left, $left === $right ? $left : $right);
    }
}
