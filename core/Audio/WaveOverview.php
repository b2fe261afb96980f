<?php

namespace Pestle\Core\Audio;

/**
 * The outline of a recording at several zooms: for every run of frames the lowest and highest
 * value of both sides, as signed bytes (±127). Level 0 covers 64 frames a pair, each further level eight times as many.
 */
final readonly class WaveOverview
{
    public const BASE_FRAMES = 64;
    public const FACTOR = 8;
    /** Pairs in a tile. */
    public const TILE = 4096;

    /** @param list<string> $levels pairs of bytes, low then high */
    private function __construct(public array $levels)
    {
    }

    public static function of(AudioSource $source): self
    {
        $base = '';
        $frames = $source->frames();
        for ($at = 0; $at < $frames; $at += 65536) {
            $block = $source->read($at, min(65536, $frames - $at));
            foreach (array_chunk($block->left, self::BASE_FRAMES) as $i => $left) {
                $both = [...$left, ...\array_slice($block->right, $i * self::BASE_FRAMES, self::BASE_FRAMES)];
                $base .= self::pair(min($both), max($both));
            }
        }
        $levels = [$base];
        while (\strlen($base) > 2 * 512) {
            $levels[] = $base = self::coarser($base);
        }

        return new self($levels);
    }

    /**
     * An outline of the frames from $from to $to (all when not given) in at most $columns pairs, low and high, each from -1 to 1.
     *
     * @return list<array{float, float}>
     */
    public function outline(int $columns, int $from = 0, ?int $to = null): array
    {
        $frames = self::BASE_FRAMES;
        $level = $this->levels[0] ?? '';
        $to ??= $frames * intdiv(\strlen($level), 2);
        foreach ($this->levels as $coarser) {
            $pairs = \strlen($coarser) / \strlen($this->levels[0]) * ($to - $from) / $frames;
            $level = $pairs >= $columns ? $coarser : $level;
        }
        $scale = \strlen($level) / max(1, \strlen($this->levels[0] ?? ''));
        $first = (int) ($from / $frames * $scale);
        $pairs = max(1, (int) ceil(($to - $from) / $frames * $scale));
        /** @var array<int, int> $v */
        $v = '' === ($part = substr($level, 2 * $first, 2 * $pairs)) ? [] : unpack('c*', $part);
        $pairs = intdiv(\count($v), 2);
        $columns = min($columns, $pairs);
        $out = [];
        for ($c = 0; $c < $columns; ++$c) {
            $low = $high = 0;
            for ($p = intdiv($c * $pairs, $columns), $end = intdiv(($c + 1) * $pairs, $columns); $p < $end; ++$p) {
                $low = min($low, $v[2 * $p + 1]);
                $high = max($high, $v[2 * $p + 2]);
            }
            $out[] = [$low / 127, $high / 127];
        }

        return $out;
    }

    /** A piece of a level, for showing what is in view; empty beyond its end. */
    public function tile(int $level, int $tile): string
    {
        return substr($this->levels[$level] ?? '', 2 * self::TILE * $tile, 2 * self::TILE);
    }

    private static function coarser(string $level): string
    {
        $out = '';
        foreach (str_split($level, 2 * self::FACTOR) as $run) {
            /** @var non-empty-array<int, int> $v */
            $v = unpack('c*', $run);
            $out .= pack('c2', min($v), max($v));
        }

        return $out;
    }

    private static function pair(float $low, float $high): string
    {
        return pack('c2', (int) max(-127, floor($low * 127)), (int) min(127, ceil($high * 127)));
    }

    /** A header of level sizes and the levels, for storing. */
    public function encode(): string
    {
        $sizes = array_map(strlen(...), $this->levels);

        return pack('V*', \count($sizes), ...$sizes).implode('', $this->levels);
    }

    public static function decode(string $bytes): self
    {
        /** @var array{1: int} $count */
        $count = unpack('V', $bytes);
        /** @var array<int, int> $sizes */
        $sizes = unpack('V'.$count[1], substr($bytes, 4));
        $at = 4 + 4 * $count[1];
        $levels = [];
        foreach ($sizes as $size) {
            $levels[] = substr($bytes, $at, $size);
            $at += $size;
        }

        return new self($levels);
    }
}
