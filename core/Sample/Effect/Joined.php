<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Reading;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Window;

/** Sources one after the other; neighbours overlap by some frames, over which one fades into the other without a corner. */
final readonly class Joined implements AudioSource
{
    /** @var list<int> where each part begins */
    private array $starts;
    private int $frames;

    /**
     * @param non-empty-list<AudioSource> $parts
     * @param list<int>                   $overlaps frames, one for each pair of neighbours
     */
    public function __construct(private array $parts, private array $overlaps)
    {
        $starts = [];
        $at = 0;
        foreach ($parts as $i => $part) {
            $at -= 0 === $i ? 0 : $overlaps[$i - 1];
            $starts[] = $at;
            $at += $part->frames();
        }
        $this->starts = $starts;
        $this->frames = $at;
    }

    public function sampleRate(): int
    {
        return $this->parts[0]->sampleRate();
    }

    public function frames(): int
    {
        return $this->frames;
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames, $this->mixed(...));
    }

    private function mixed(int $start, int $count): StereoBlock
    {
        $left = $right = array_fill(0, $count, 0.0);
        foreach ($this->parts as $i => $part) {
            $from = max($start, $this->starts[$i]);
            $to = min($start + $count, $this->starts[$i] + $part->frames());
            if ($to <= $from) {
                continue;
            }
            $block = $part->read($from - $this->starts[$i], $to - $from);
            $in = $this->overlaps[$i - 1] ?? 0;
            $out = $this->overlaps[$i] ?? 0;
            $end = $this->starts[$i] + $part->frames();
            foreach ($block->left as $k => $l) {
                $at = $from + $k;
                $gain = 1.0;
                if ($at - $this->starts[$i] < $in) {
                    $gain = Window::rise(($at - $this->starts[$i] + 0.5) / $in);
                }
                if ($end - $at <= $out) {
                    $gain *= Window::rise(($end - $at - 0.5) / $out);
                }
                $left[$at - $start] += $l * $gain;
                $right[$at - $start] += $block->right[$k] * $gain;
            }
        }

        $left = array_values($left);
        $right = array_values($right);

        return new StereoBlock($left, $left === $right ? $left : $right);
    }
}
