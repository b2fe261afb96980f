<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Sample\Effect\Part;
use Pestle\Core\Signal\Continuation;

/**
 * A stretch of a source that goes on after its end as it was, and began before its start as it does, instead of breaking off:
 * spectra taken over an edge would carry it to other places. A neighbouring hit is not heard in it.
 */
final class Surrounded
{
    /** Frames that are made up at each end; further out it is silent. */
    private readonly int $reach;
    private ?StereoBlock $before = null;
    private ?StereoBlock $after = null;

    /** @param int $attack frames at its start that never repeat: what comes before them is the source itself */
    public function __construct(
        private readonly AudioSource $source,
        private readonly int $from,
        private readonly int $to,
        private readonly int $attack,
        private readonly Continuation $continuation,
    ) {
        $this->reach = 4 * $continuation->frames();
    }

    public function read(int $start, int $count): StereoBlock
    {
        $over = Continuation::OVER;
        // Too short, or of too low a rate, to tell how it would go on.
        if (min($this->to - $this->from, $this->continuation->frames()) < 2 * $over) {
            return (new Part($this->source, $this->from, $this->to))->read($start - $this->from, $count);
        }
        $inner = $this->attack > 0 ? \PHP_INT_MIN : $this->from + $over;
        if ($start >= $inner && $start + $count <= $this->to - $over) {
            return $this->source->read($start, $count);
        }
        $parts = StereoBlock::silence(0);
        for ($at = $start, $end = $start + $count; $at < $end; $at += $n) {
            if ($at < $inner) {
                $n = min($end, $inner) - $at;
                $this->before ??= self::turned($this->made(self::turned($this->source->read($this->from, min($this->continuation->frames(), $this->to - $this->from)))));
                $part = self::within($this->before, $at - ($inner - $this->before->frames()), $n);
            } elseif ($at < $this->to - $over) {
                $n = min($end, $this->to - $over) - $at;
                $part = $this->source->read($at, $n);
            } else {
                $n = $end - $at;
                // After a hit that is cut off soon, what was before it tells more than its attack.
                $past = min($this->continuation->frames(), $this->to, max(2 * $over, intdiv($this->continuation->frames(), 2), $this->to - $this->from - $this->attack));
                $this->after ??= $this->made($this->source->read($this->to - $past, $past));
                $part = self::within($this->after, $at - ($this->to - $over), $n);
            }
            $parts = $parts->append($part);
        }

        return $parts->left === $parts->right ? new StereoBlock($parts->left, $parts->left) : $parts;
    }

    /** What follows a sound, from OVER frames before its end on. */
    private function made(StereoBlock $past): StereoBlock
    {
        $sides = $this->continuation->of($past->left === $past->right ? [$past->left] : [$past->left, $past->right], $this->reach);

        return new StereoBlock($sides[0], $sides[1] ?? $sides[0]);
    }

    private static function turned(StereoBlock $block): StereoBlock
    {
        $left = array_reverse($block->left);

        return new StereoBlock($left, $block->left === $block->right ? $left : array_reverse($block->right));
    }

    private static function within(StereoBlock $block, int $start, int $count): StereoBlock
    {
        $from = max(0, min($block->frames(), $start));
        $to = max($from, min($block->frames(), $start + $count));

        return StereoBlock::silence(min($count, max(0, $from - $start)))->append($block->slice($from, $to - $from))->append(StereoBlock::silence(max(0, $start + $count - max($to, $start))));
    }
}
