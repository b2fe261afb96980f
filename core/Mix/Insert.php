<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** Shapes the sound of a line, segment after segment: small state in, sound and state out, in blocks of any size. */
interface Insert
{
    /** @return list<float> its state when nothing was ever played */
    public function rest(): array;

    /**
     * @param StereoBlock|null $key   the sound that steers it; null for its own
     * @param list<float>      $state
     *
     * @return array{StereoBlock, list<float>, GainCurve|null} the sound on the grid, the state after it, and the gain it was given where it was only that
     */
    public function process(StereoBlock $in, ?StereoBlock $key, array $state): array;
}
