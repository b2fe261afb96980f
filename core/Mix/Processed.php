<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;

/** What inserts made of a segment. */
final readonly class Processed
{
    /**
     * @param StereoBlock|null      $sound  on the grid; null for silence
     * @param list<InsertState>     $states
     * @param array<int, GainCurve> $curves gain that was given, by the place of the insert that gave it
     */
    public function __construct(public ?StereoBlock $sound, public array $states, public array $curves)
    {
    }
}
