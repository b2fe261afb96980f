<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** Values rounded to the steps of fewer bits. */
final readonly class Stepped extends SameLength
{
    public function __construct(AudioSource $source, private int $bits)
    {
        parent::__construct($source);
    }

    public function read(int $start, int $count): StereoBlock
    {
        $block = $this->source->read($start, $count);
        $left = $this->stepped($block->left);

        return new StereoBlock($left, $block->left === $block->right ? $left : $this->stepped($block->right));
    }

    /**
     * @param list<float> $values
     *
     * @return list<float>
     */
    private function stepped(array $values): array
    {
        $steps = 2.0 ** ($this->bits - 1);
        foreach ($values as $i => $x) {
            $values[$i] = max(-1.0, min(1.0 - 1.0 / $steps, round($x * $steps) / $steps));
        }

        return $values;
    }
}
