<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** A source in mono: its left side, its right side, or the middle of both. */
final readonly class OneSided extends SameLength
{
    public function __construct(AudioSource $source, private string $side)
    {
        parent::__construct($source);
    }

    public function read(int $start, int $count): StereoBlock
    {
        $block = $this->source->read($start, $count);
        $mono = match ($this->side) {
            'left' => $block->left,
            'right' => $block->right,
            default => array_map(static fn (float $l, float $r): float => 0.5 * ($l + $r), $block->left, $block->right),
        };

        return new StereoBlock($mono, $mono);
    }
}
