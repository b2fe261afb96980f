<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/** A segment on its way: mixed, but not yet limited. */
final class Pending
{
    private ?StereoBlock $block = null;

    /**
     * @param Rendered                   $master     before its fader
     * @param array<string, Rendered>    $levels
     * @param array<string, list<float>> $reductions
     * @param array<string, StereoBlock> $stems
     */
    public function __construct(
        public readonly Segment $segment,
        public readonly string $key,
        private readonly Rendered $master,
        private readonly Fader $fader,
        public readonly array $levels,
        public readonly array $reductions,
        public readonly array $stems,
    ) {
    }

    public function block(): StereoBlock
    {
        return $this->block ??= $this->fader->apply($this->master->block());
    }
}
