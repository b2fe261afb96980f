<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** Only some of a source's values, each held until the next: a low rate without any filter, folds and images included. */
final readonly class Held extends SameLength
{
    public function __construct(AudioSource $source, private int $rate)
    {
        parent::__construct($source);
    }

    public function read(int $start, int $count): StereoBlock
    {
        $step = $this->sampleRate() / $this->rate;
        $back = (int) ceil($step);
        $block = $this->source->read($start - $back, $count + $back);
        $left = $right = [];
        for ($i = 0; $i < $count; ++$i) {
            $at = (int) (floor(($start + $i) / $step) * $step) - $start + $back;
            $left[] = $block->left[$at];
            $right[] = $block->right[$at];
        }

        return new StereoBlock($left, $left === $right ? $left : $right);
    }
}
