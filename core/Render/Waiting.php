<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Late;

/** What waits on the ways into a line while a segment goes by. */
final class Waiting
{
    /** @param array<string, InsertState> $states by way: the frames that wait, left and right */
    public function __construct(private array $states)
    {
    }

    /** @return list<InsertState> */
    public function states(): array
    {
        return array_values($this->states);
    }

    /**
     * What comes out of a way while a block goes in.
     *
     * @param StereoBlock|null $block null for silence
     */
    public function later(string $way, ?StereoBlock $block, int $frames): ?StereoBlock
    {
        $waiting = $this->states[$way]->numbers ?? [];
        if ([] === $waiting || (null === $block && 0.0 === max($waiting) && 0.0 === min($waiting))) {
            return $block;
        }
        $half = intdiv(\count($waiting), 2);
        [$sound, $left, $right] = Late::wait($block ?? StereoBlock::silence($frames), $half, \array_slice($waiting, 0, $half), \array_slice($waiting, $half));
        $this->states[$way] = new InsertState([...$left, ...$right]);

        return $sound;
    }
}
