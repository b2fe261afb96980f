<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** A source in mono: its left side, its right side, or the middle of both. */
final readonly class OneSided implements AudioSource
{
    public function __construct(private AudioSource $source, private string $side)
    {
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return $this->source->frames();
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
