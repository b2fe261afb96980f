<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/** A segment on its way: mixed, but not yet limited. */
final readonly class Pending
{
    /**
     * @param array<string, Rendered>    $levels
     * @param array<string, float>       $reductions
     * @param array<string, StereoBlock> $stems
     */
    public function __construct(
        public Segment $segment,
        public string $key,
        public Rendered $master,
        public array $levels,
        public array $reductions,
        public array $stems,
    ) {
    }
}
