<?php

namespace Pestle\Core\Audio;

/**
 * The outline of a recording at several zooms: for every run of frames the lowest and highest value, of each side
 * when they differ, as signed bytes (±127). Level 0 covers 64 frames a run, each further level eight times as many.
 */
final readonly class WaveOverview
{
    public const BASE_FRAMES = 64;
    public const FACTOR = 8;
    /** Runs in a tile. */
    public const TILE = 4096;
    /** Levels go on until one has no more runs than this. */
    private const COARSEST = 512;
    /** In the first number of an encoded overview beside the count of levels: both sides are there. */
    private const TWO_SIDES = 0x10000;

    /**
     * @param list<string> $levels runs of low and high, of the left and then of the right where there are two
     * @param int<1, 2>    $sides
     */
    private function __construct(public array $levels, public int $sides)
    {
    }

    public static function of(AudioSource $source): self
    {
        $one = $two = '';
        $frames = $source->frames();
        for ($at = 0; $at < $frames; $at += 65536) {
            $block = $source->read($at, min(65536, $frames - $at));
            $left = self::runs($block->left);
            $right = $block->left === $block->right ? $left : self::runs($block->right);
            // As long as both sides are equal there is nothing to keep of the other.
            if ('' === $two && $left === $right) {
                $one .= $left;
                continue;
            }
            if ('' === $two) {
                $two = self::sideBySide($one, $one);
                $one = '';
            }
            $two .= self::sideBySide($left, $right);
        }
        $sides = '' === $two ? 1 : 2;
        $levels = [$finest = '' === $two ? $one : $two];
        while (\strlen($finest) > 2 * $sides * self::COARSEST) {
            $levels[] = $finest = self::coarser($finest, $sides);
        }

        return new self($levels, $sides);
    }

    private static function sideBySide(string $left, string $right): string
    {
        $both = '';
        for ($at = 0, $n = \strlen($left); $at < $n; $at += 2) {
            $both .= $left[$at].$left[$at + 1].$right[$at].$right[$at + 1];
        }

        return $both;
    }

    /** @param list<float> $values */
    private static function runs(array $values): string
    {
        $out = '';
        foreach (array_chunk($values, self::BASE_FRAMES) as $run) {
            $out .= pack('c2', (int) max(-127, floor(min($run) * 127)), (int) min(127, ceil(max($run) * 127)));
        }

        return $out;
    }

    /**
     * An outline of the frames from $from to $to (all when not given) in at most $columns pairs, low and high, each from -1 to 1.
     *
     * @return list<array{float, float}>
     */
    public function outline(int $columns, int $from = 0, ?int $to = null): array
    {
        $bytes = 2 * $this->sides;
        $frames = self::BASE_FRAMES;
        $level = $this->levels[0] ?? '';
        $to ??= $frames * intdiv(\strlen($level), $bytes);
        foreach ($this->levels as $coarser) {
            $runs = \strlen($coarser) / \strlen($this->levels[0]) * ($to - $from) / $frames;
            $level = $runs >= $columns ? $coarser : $level;
        }
        $scale = \strlen($level) / max(1, \strlen($this->levels[0] ?? ''));
        $first = (int) ($from / $frames * $scale);
        $runs = max(1, (int) ceil(($to - $from) / $frames * $scale));
        /** @var array<int, int> $v */
        $v = '' === ($part = substr($level, $bytes * $first, $bytes * $runs)) ? [] : unpack('c*', $part);
        $runs = intdiv(\count($v), $bytes);
        $columns = min($columns, $runs);
        $out = [];
        for ($c = 0; $c < $columns; ++$c) {
            $low = $high = 0;
            for ($p = $bytes * intdiv($c * $runs, $columns), $end = $bytes * intdiv(($c + 1) * $runs, $columns); $p < $end; $p += 2) {
                $low = min($low, $v[$p + 1]);
                $high = max($high, $v[$p + 2]);
            }
            $out[] = [$low / 127, $high / 127];
        }

        return $out;
    }

    /** A piece of a level, for showing what is in view: the number of sides as a byte, then runs; none beyond its end. */
    public function tile(int $level, int $tile): string
    {
        $bytes = 2 * $this->sides * self::TILE;

        return \chr($this->sides).substr($this->levels[$level] ?? '', $bytes * $tile, $bytes);
    }

    /** @param int<1, 2> $sides */
    private static function coarser(string $level, int $sides): string
    {
        $out = '';
        $bytes = 2 * $sides * self::FACTOR;
        for ($at = 0, $length = \strlen($level); $at < $length; $at += $bytes) {
            /** @var non-empty-array<int, int> $v */
            $v = unpack('c*', substr($level, $at, $bytes));
            for ($side = 0; $side < $sides; ++$side) {
                $low = $high = 0;
                for ($i = 1 + 2 * $side, $n = \count($v); $i < $n; $i += 2 * $sides) {
                    $low = min($low, $v[$i]);
                    $high = max($high, $v[$i + 1]);
                }
                $out .= pack('c2', $low, $high);
            }
        }

        return $out;
    }

    /** A header of level sizes and the levels, for storing. */
    public function encode(): string
    {
        $sizes = array_map(strlen(...), $this->levels);

        return pack('V*', \count($sizes) | (2 === $this->sides ? self::TWO_SIDES : 0), ...$sizes).implode('', $this->levels);
    }

    public static function decode(string $bytes): self
    {
        /** @var array{1: int} $first */
        $first = unpack('V', $bytes);
        $count = $first[1] & ~self::TWO_SIDES;
        /** @var array<int, int> $sizes */
        $sizes = unpack('V'.$count, substr($bytes, 4));
        $at = 4 + 4 * $count;
        $levels = [];
        foreach ($sizes as $size) {
            $levels[] = substr($bytes, $at, $size);
            $at += $size;
        }

        return new self($levels, $first[1] === $count ? 1 : 2);
    }
}
