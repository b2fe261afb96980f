<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** Shapes the sound of a line, segment after segment: state in, sound and state out, the same in blocks of any size. */
interface Insert
{
    /** Its state when nothing was ever played. */
    public function rest(): InsertState;

    /**
     * @param StereoBlock|null $key the sound that steers it; null for its own
     * @param int              $at  frame of what is played at which the block begins
     *
     * @return array{StereoBlock, InsertState, GainCurve|null} the sound on the grid, the state after it, and the gain it was given where it was only that
     */
    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array;
}
