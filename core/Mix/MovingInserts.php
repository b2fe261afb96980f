<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** An insert whose settings move: every so many frames it is set anew, its state goes on. */
final readonly class MovingInserts implements Inserts
{
    /**
     * @param \Closure(int): FixedInserts $step  as it is set at a step; asked for only when something goes through it
     * @param int                         $count steps of the segment
     * @param int                         $every frames of a step
     */
    public function __construct(private \Closure $step, private int $count, private int $every = GainCurve::STEP)
    {
    }

    public function rest(): array
    {
        return ($this->step)(0)->rest();
    }

    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed
    {
        $parts = [];
        $curves = [];
        for ($k = 0; $k < $this->count; ++$k) {
            [$inserts, $from, $count] = $this->step($k, $frames);
            $own = array_map(static fn (StereoBlock $key): StereoBlock => $key->slice($from, $count), $keys);
            $done = $inserts->process($in?->slice($from, $count), $count, $own, $states, $at + $from);
            $states = $done->states;
            $parts[] = $done->sound ?? StereoBlock::silence($count);
            foreach ($done->curves as $i => $curve) {
                $curves[$i][] = $curve;
            }
        }

        return new Processed(self::joined($parts ?: [$in ?? StereoBlock::silence($frames)]), $states, array_map(GainCurve::joined(...), $curves));
    }

    public function part(StereoBlock $in, array $states, array $gains, int $at): array
    {
        $parts = [];
        for ($k = 0; $k < $this->count; ++$k) {
            [$inserts, $from, $count] = $this->step($k, $in->frames());
            [$parts[], $states] = $inserts->part($in->slice($from, $count), $states, array_map(static fn (array $all): array => \array_slice($all, $from, $count), $gains), $at + $from);
        }

        return [self::joined($parts ?: [$in]), $states];
    }

    /** @return array{FixedInserts, int, int} as it is set, first frame and frames */
    private function step(int $k, int $frames): array
    {
        return [($this->step)($k), $k * $this->every, min($this->every, $frames - $k * $this->every)];
    }

    /** @param non-empty-list<StereoBlock> $parts */
    private static function joined(array $parts): StereoBlock
    {
        $left = array_merge(...array_map(static fn (StereoBlock $b): array => $b->left, $parts));
        $right = array_merge(...array_map(static fn (StereoBlock $b): array => $b->right, $parts));

        return new StereoBlock($left, $left === $right ? $left : $right);
    }
}
