<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;

/** One finished segment: the mix, how loud each channel was, and its stems where they were asked for. */
final readonly class Moment
{
    /**
     * @param string                     $key        the same key means the same sound
     * @param array<string, Rendered>    $levels     by line of the mixer, before its fader
     * @param array<string, list<float>> $reductions lowest gain of each insert that gave one, by line and insert, and of the "limiter", every Rendered::PEAK_FRAMES; empty where nothing was pulled down
     * @param array<string, StereoBlock> $stems      by name; together exactly the mix
     */
    public function __construct(
        public Segment $segment,
        public string $key,
        public Rendered $mix,
        public array $levels,
        public array $reductions,
        public array $stems,
    ) {
    }
}
