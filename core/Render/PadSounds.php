<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\StereoBlock;

/**
 * Samples as pads play them: at the beat's rate and tuned. Blocks are kept decoded,
 * the ones used longest ago go first, so that memory stays within its bound however long the samples are.
 */
final class PadSounds
{
    private const BLOCK = 8192;
    /** @var array<string, AudioSource> */
    private array $sources = [];
    /** @var array<string, StereoBlock> */
    private array $blocks = [];

    public function __construct(
        private readonly SampleLibrary $library,
        private readonly int $sampleRate,
        private readonly int $mostBlocks = 64,
    ) {
    }

    public function source(string $sample, int $tuneCents): AudioSource
    {
        if (\count($this->sources) > 256) {
            $this->sources = [];
        }

        return $this->sources[$sample.$tuneCents] ??= Resampled::toRate($this->library->open($sample), $this->sampleRate, 2.0 ** ($tuneCents / 1200));
    }

    /** Frames heard a frame of the source: how places in the source become places in what is heard. */
    public function stretch(string $sample, int $tuneCents): float
    {
        $source = $this->library->open($sample);

        return $this->sampleRate / $source->sampleRate() / 2.0 ** ($tuneCents / 1200);
    }

    public function read(string $sample, int $tuneCents, int $start, int $count): StereoBlock
    {
        $first = (int) floor($start / self::BLOCK);
        $last = (int) floor(($start + $count - 1) / self::BLOCK);
        if ($first * self::BLOCK === $start && self::BLOCK === $count) {
            return $this->block($sample, $tuneCents, $first);
        }
        $out = null;
        for ($b = $first; $b <= $last; ++$b) {
            $from = max($start, $b * self::BLOCK);
            $to = min($start + $count, ($b + 1) * self::BLOCK);
            $block = $this->block($sample, $tuneCents, $b);
            $same = $block->left === $block->right;
            $left = \array_slice($block->left, $from - $b * self::BLOCK, $to - $from);
            $part = new StereoBlock($left, $same ? $left : \array_slice($block->right, $from - $b * self::BLOCK, $to - $from));
            $out = null === $out ? $part : self::joined($out, $part);
        }

        return $out ?? StereoBlock::silence(0);
    }

    private static function joined(StereoBlock $a, StereoBlock $b): StereoBlock
    {
        $left = [...$a->left, ...$b->left];

        return new StereoBlock($left, $a->left === $a->right && $b->left === $b->right ? $left : [...$a->right, ...$b->right]);
    }

    private function block(string $sample, int $tuneCents, int $index): StereoBlock
    {
        $key = $sample.$tuneCents.'/'.$index;
        if (isset($this->blocks[$key])) {
            $block = $this->blocks[$key];
            unset($this->blocks[$key]);

            return $this->blocks[$key] = $block;
        }
        $block = $this->source($sample, $tuneCents)->read($index * self::BLOCK, self::BLOCK);
        if ($block->left === $block->right) {
            // One array for both sides: what follows then works on one.
            $block = new StereoBlock($block->left, $block->left);
        }
        if (\count($this->blocks) >= $this->mostBlocks) {
            array_shift($this->blocks);
        }

        return $this->blocks[$key] = $block;
    }
}
