<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/** A source with a short sound laid over it at some places, to hear whether they are right. */
final readonly class Ticked extends SameLength
{
    /**
     * @param array<int, int> $places frames by number, ascending
     * @param StereoBlock     $strong laid where a bar begins
     * @param StereoBlock     $usual  laid at the others
     * @param int             $aBar   beats in a bar
     */
    public function __construct(AudioSource $source, private array $places, private StereoBlock $strong, private StereoBlock $usual, private int $aBar)
    {
        parent::__construct($source);
    }

    public function read(int $start, int $count): StereoBlock
    {
        $block = $this->source->read($start, $count);
        [$left, $right] = [$block->left, $block->right];
        foreach ($this->places as $number => $place) {
            $tick = 0 === $number % $this->aBar ? $this->strong : $this->usual;
            for ($i = max(0, $start - $place), $end = min($tick->frames(), $start + $count - $place); $i < $end; ++$i) {
                $left[$place + $i - $start] += $tick->left[$i];
                $right[$place + $i - $start] += $tick->right[$i];
            }
        }

        return new StereoBlock(array_values($left), array_values($right));
    }
}
