<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;

/** A source with a gain for every frame. */
final readonly class Shaped extends SameLength
{
    /** @param \Closure(float): float $gain by the place in the source, 0 to 1 */
    public function __construct(AudioSource $source, private \Closure $gain)
    {
        parent::__construct($source);
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames(), $this->shaped(...));
    }

    private function shaped(int $start, int $count): StereoBlock
    {
        $block = $this->source->read($start, $count);
        [$left, $right] = [$block->left, $block->right];
        $scale = 1.0 / max(1, $this->frames() - 1);
        foreach ($left as $i => $l) {
            $gain = ($this->gain)(($start + $i) * $scale);
            $left[$i] = $l * $gain;
            $right[$i] *= $gain;
        }

        $right = array_values($right);

        return new StereoBlock($left, $left === $right ? $left : $right);
    }
}
