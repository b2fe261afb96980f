<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/** A stretch of a sound that goes round and round once it is reached; where it begins again it goes over from what was before its start. */
final readonly class Round
{
    /** Most frames over which it goes over; a short stretch takes half of itself. */
    private const FADE = 882;

    private int $fade;

    /**
     * @param int $from frame of the sound, counted from where it begins, at which the stretch begins
     * @param int $to   the one after its last
     */
    public function __construct(public int $from, public int $to)
    {
        $this->fade = min(self::FADE, intdiv($to - $from, 2), $from);
    }

    public function signature(): string
    {
        return $this->from.' '.$this->to;
    }

    /** @param callable(int, int): StereoBlock $sound */
    public function read(int $at, int $count, callable $sound): StereoBlock
    {
        $parts = StereoBlock::silence(0);
        $length = $this->to - $this->from;
        for ($end = $at + $count; $at < $end; $at += $n) {
            $place = $at < $this->to ? $at : $this->from + ($at - $this->from) % $length;
            $edge = $this->to - $this->fade;
            $n = min($end - $at, ($place < $edge ? $edge : $this->to) - $place);
            $block = $sound($place, $n);
            $parts = $parts->append($place < $edge ? $block : $this->over($block, $sound($place - $length, $n), $place - $edge));
        }

        return $parts;
    }

    private function over(StereoBlock $block, StereoBlock $next, int $into): StereoBlock
    {
        [$left, $right] = [$block->left, $block->right];
        foreach ($left as $i => $l) {
            $gain = ($into + $i) / (float) $this->fade;
            $left[$i] = ($next->left[$i] - $l) * $gain + $l;
            $right[$i] = ($next->right[$i] - $right[$i]) * $gain + $right[$i];
        }
        $left = array_values($left);

        return new StereoBlock($left, $block->left === $block->right && $next->left === $next->right ? $left : array_values($right));
    }
}
