<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;

/** Notes of made sounds that are played: what of them was worked out is kept for those that are alike, the one used longest ago goes first. */
final class MadeSounds
{
    private const MOST_BLOCKS = 256;
    private readonly Wavetables $tables;
    /** @var array<string, StereoBlock> by block and name */
    private array $blocks = [];

    public function __construct()
    {
        $this->tables = new Wavetables();
    }

    public function read(MadeNote $note, int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, MadeNote::FRAMES, function (int $from, int $frames) use ($note): StereoBlock {
            $out = null;
            for ($at = $from, $end = $from + $frames; $at < $end; $at += $n) {
                $number = intdiv($at, MadeNote::BLOCK);
                $n = min(($number + 1) * MadeNote::BLOCK, $end) - $at;
                $block = $this->block($note, $number);
                $part = MadeNote::BLOCK === $n ? $block : $block->slice($at - $number * MadeNote::BLOCK, $n);
                $out = null === $out ? $part : $out->append($part);
            }

            return $out ?? StereoBlock::silence(0);
        });
    }

    private function block(MadeNote $note, int $number): StereoBlock
    {
        $key = $number.' '.$note->name;
        $block = $this->blocks[$key] ?? $note->block($number, $this->tables);
        unset($this->blocks[$key]);
        $this->blocks[$key] = $block;
        if (\count($this->blocks) > self::MOST_BLOCKS) {
            array_shift($this->blocks);
        }

        return $block;
    }
}
