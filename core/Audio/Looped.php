<?php

namespace Pestle\Core\Audio;

/** A source that goes round, before its start as after its end: what is worked out from it has no edges. */
final readonly class Looped implements AudioSource
{
    public function __construct(private AudioSource $source)
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
        $length = $this->frames();
        $left = $right = [];
        for ($at = $start; $at < $start + $count;) {
            $within = ($at % $length + $length) % $length;
            $block = $this->source->read($within, min($length - $within, $start + $count - $at));
            array_push($left, ...$block->left);
            array_push($right, ...$block->right);
            $at += $block->frames();
        }

        return new StereoBlock($left, $right);
    }
}
