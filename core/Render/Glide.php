<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\SincTable;
use Pestle\Core\Audio\StereoBlock;

/**
 * A sound that slides into its pitch: it begins so many cents above or below, and gets there evenly in cents. From then
 * on it is the sound itself, later or earlier by whole frames.
 */
final readonly class Glide
{
    /** Frames that the sound itself is ahead of it, once it is there; below 0 it is behind. */
    public int $shift;
    /** Frames it would be ahead by the pitch alone; the rounding is spread over the way. */
    private float $exact;

    /**
     * @param float $cents  where it begins: above its pitch, or below 0
     * @param int   $frames how long it takes, at least 1
     */
    public function __construct(public float $cents, public int $frames)
    {
        $this->exact = $this->passed((float) $frames) - $frames;
        $this->shift = (int) round($this->exact);
    }

    public function signature(): string
    {
        return $this->cents.' '.$this->frames;
    }

    /**
     * Frames of the glide itself.
     *
     * @param int                             $from  frame of the glide, from 0 (negative before its start)
     * @param callable(int, int): StereoBlock $sound gives frames of the sound, counted from where it begins
     */
    public function read(int $from, int $count, callable $sound): StereoBlock
    {
        $table = SincTable::of(min(1.0, 2.0 ** (-max(0.0, $this->cents) / 1200.0)));
        $first = (int) floor($this->place($from)) - $table->reach;
        $last = (int) ceil($this->place($from + $count)) + $table->reach + 1;
        $block = $sound($first, $last - $first);
        $same = $block->left === $block->right;
        $left = $right = [];
        for ($n = 0; $n < $count; ++$n) {
            $place = $this->place($from + $n);
            $index = (int) floor($place);
            $phase = ($place - $index) * $table->phases;
            $whole = (int) $phase;
            $at = $index - $table->reach + 1 - $first;
            $left[] = SincTable::between($block->left, $table->filter($whole), $table->filter($whole + 1), $phase - $whole, $at);
            $right[] = $same ? 0.0 : SincTable::between($block->right, $table->filter($whole), $table->filter($whole + 1), $phase - $whole, $at);
        }

        return new StereoBlock($left, $same ? $left : $right);
    }

    /** Where in the sound a frame of the glide lies. */
    private function place(int $frame): float
    {
        return 0.0 === $this->exact ? (float) $frame : $frame + $this->shift / $this->exact * ($this->passed((float) $frame) - $frame);
    }

    /** Frames of the sound that pass until a frame of the glide: the integral of a speed that falls, or rises, evenly in cents. */
    private function passed(float $frame): float
    {
        $begin = 2.0 ** ($this->cents / 1200.0);
        $fall = log(2.0) * $this->cents / 1200.0 / $this->frames;

        return $frame < 0.0 ? $frame * $begin : $begin * (1.0 - exp(-$fall * $frame)) / $fall;
    }
}
