<?php

namespace Pestle\Core\Render;

/** How loud a segment is, and what the filters that weigh it go on with. */
final readonly class Loud
{
    /**
     * @param string                                                                      $key    of the segment
     * @param list<array{float, float}>                                                   $powers plain and weighted, of both sides together, every Rendered::PEAK_FRAMES
     * @param array{array{float, float, float, float}, array{float, float, float, float}} $states by side
     */
    public function __construct(public string $key, public array $powers, public array $states)
    {
    }
}
