<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\StereoBlock;

/** What of a rendered stream goes into files: from one frame to another, and where silence is trimmed from the first frame that is heard to the last. */
final class Window
{
    /** What never goes over half a step of 16 bits is silence. */
    private const SILENT = 1.0 / 65_536;

    private int $begun = 0;
    private int $passed = 0;
    private int $written = 0;
    private int $heard = 0;

    /**
     * @param int      $from first frame that is wanted
     * @param int|null $to   the one after the last; null where all is wanted that comes
     */
    public function __construct(private readonly int $from = 0, private readonly ?int $to = null, private readonly bool $trims = false)
    {
    }

    /**
     * Where in the next block of the stream what is wanted begins, and how many frames it is.
     *
     * @param non-empty-array<StereoBlock> $blocks the mix and its stems, of one length
     *
     * @return array{int, int}
     */
    public function next(array $blocks): array
    {
        $frames = reset($blocks)->frames();
        $start = max(0, $this->from - $this->passed);
        $end = min($frames, ($this->to ?? \PHP_INT_MAX) - $this->passed);
        $before = $this->passed;
        $this->passed += $frames;
        if ($start >= $end) {
            return [0, 0];
        }
        if ($this->trims) {
            $heard = self::heard($blocks, $start, $end);
            if (0 === $this->written) {
                if (null === $heard) {
                    return [0, 0];
                }
                $start = $heard[0];
            }
            $this->heard = null === $heard ? $this->heard : $this->written + $heard[1] + 1 - $start;
        }
        $this->begun = 0 === $this->written ? $before + $start : $this->begun;
        $this->written += $end - $start;

        return [$start, $end - $start];
    }

    /** Whether nothing that comes is wanted any more. */
    public function isOver(): bool
    {
        return null !== $this->to && $this->passed >= $this->to;
    }

    /** Frame of the stream that is the first of the files. */
    public function begun(): int
    {
        return $this->begun;
    }

    /** Frames that stay of what was wanted so far. */
    public function frames(): int
    {
        return $this->trims ? $this->heard : $this->written;
    }

    /**
     * @param non-empty-array<StereoBlock> $blocks
     *
     * @return array{int, int}|null the first frame and the last that are heard in any of them
     */
    private static function heard(array $blocks, int $start, int $end): ?array
    {
        $first = $last = null;
        foreach ($blocks as $block) {
            foreach ([$block->left, $block->right] as $side) {
                for ($i = $start; $i < ($first ?? $end) && abs($side[$i]) < self::SILENT; ++$i) {
                }
                $first = $i < ($first ?? $end) ? $i : $first;
                for ($i = $end - 1; $i > ($last ?? $start - 1) && abs($side[$i]) < self::SILENT; --$i) {
                }
                $last = $i > ($last ?? $start - 1) ? $i : $last;
            }
        }

        return null === $first || null === $last ? null : [$first, $last];
    }
}
