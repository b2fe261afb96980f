<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** The inserts of a line, one after another, over a segment. */
interface Inserts
{
    /** @return list<InsertState> state of all of them, also of those that are off */
    public function rest(): array;

    /**
     * @param StereoBlock|null           $in     null for silence
     * @param array<string, StereoBlock> $keys   sound of the lines that steer; silence where there is none
     * @param list<InsertState>          $states
     * @param int                        $at     frame of what is played at which it begins
     */
    public function process(?StereoBlock $in, int $frames, array $keys, array $states, int $at): Processed;

    /**
     * What they make of a part of the sound: filters run over it, gains are those the whole was given.
     *
     * @param list<InsertState>       $states for this part
     * @param array<int, list<float>> $gains  by the place of the insert, one a frame
     *
     * @return array{StereoBlock, list<InsertState>}
     */
    public function part(StereoBlock $in, array $states, array $gains, int $at): array;
}
