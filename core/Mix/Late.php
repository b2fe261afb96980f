<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/**
 * What looks ahead: what it shapes waits for so many frames, what steers it does not. All other ways through the mixer
 * wait for it (Mixer::lateness), and what comes out is put back to where it belongs.
 */
final readonly class Late implements Insert
{
    public function __construct(private Insert $insert, private int $frames)
    {
    }

    /** The frames that wait, left and right, then what the insert has. */
    public function rest(): InsertState
    {
        $rest = $this->insert->rest();

        return new InsertState([...array_fill(0, 2 * $this->frames, 0.0), ...$rest->numbers], $rest->memory);
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        [$waited, $rest] = $this->later($in, $state);
        $own = new InsertState(\array_slice($state->numbers, 2 * $this->frames), $state->memory);
        [$sound, $after, $curve] = $this->insert->process($waited, $key ?? $in, $own, $at);

        return [$sound, new InsertState([...\array_slice($rest->numbers, 0, 2 * $this->frames), ...$after->numbers], $after->memory), $curve];
    }

    /**
     * Only the wait.
     *
     * @return array{StereoBlock, InsertState}
     */
    public function later(StereoBlock $in, InsertState $state): array
    {
        [$sound, $left, $right] = self::wait($in, $this->frames, \array_slice($state->numbers, 0, $this->frames), \array_slice($state->numbers, $this->frames, $this->frames));

        return [$sound, new InsertState([...$left, ...$right, ...\array_slice($state->numbers, 2 * $this->frames)], $state->memory)];
    }

    /**
     * A block so many frames later, and what of it is still to come.
     *
     * @param list<float> $left  what came last before it, as many frames
     * @param list<float> $right
     *
     * @return array{StereoBlock, list<float>, list<float>}
     */
    public static function wait(StereoBlock $in, int $frames, array $left, array $right): array
    {
        $n = $in->frames();
        $same = $left === $right && $in->left === $in->right;
        [$l, $r] = [[...$left, ...$in->left], $same ? [] : [...$right, ...$in->right]];
        $out = \array_slice($l, 0, $n);
        $last = \array_slice($l, $n);

        return [new StereoBlock($out, $same ? $out : \array_slice($r, 0, $n)), $last, $same ? $last : \array_slice($r, $n)];
    }
}
