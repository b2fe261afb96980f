<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\StereoBlock;

/** A source from its end to its start. */
final readonly class Reversed extends SameLength
{
    public function read(int $start, int $count): StereoBlock
    {
        $block = $this->source->read($this->frames() - $start - $count, $count);
        $left = array_reverse($block->left);

        return new StereoBlock($left, $block->left === $block->right ? $left : array_reverse($block->right));
    }
}
