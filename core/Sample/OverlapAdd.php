<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Window;

/** Pieces that were windowed twice (Hann), added up a hop apart. */
final class OverlapAdd
{
    /** @var array<int, float> */
    private array $left;
    /** @var array<int, float> */
    private array $right;
    private bool $mono = true;
    private bool $begun = false;
    /** @var list<float> a gain for each frame of a hop, against the windows */
    private readonly array $even;

    /**
     * @param int $size frames of a piece
     * @param int $hop  frames from one to the next, by which the size can be divided
     */
    public function __construct(private readonly int $size, private readonly int $hop)
    {
        $this->left = $this->right = array_fill(0, $size, 0.0);
        $sum = array_fill(0, $hop, 0.0);
        foreach (array_chunk(Window::hann($size), max(1, $hop)) as $part) {
            foreach ($part as $i => $w) {
                $sum[$i] += $w * $w;
            }
        }
        $this->even = array_values(array_map(static fn (float $w): float => 1.0 / $w, $sum));
    }

    public function add(StereoBlock $piece): void
    {
        if ($this->begun) {
            $this->left = array_pad(\array_slice($this->left, $this->hop), $this->size, 0.0);
            $this->right = $this->mono ? $this->left : array_pad(\array_slice($this->right, $this->hop), $this->size, 0.0);
        }
        $this->begun = true;
        if ($this->mono && $piece->left !== $piece->right) {
            $this->right = $this->left;
            $this->mono = false;
        }
        $this->left = self::added($this->left, $piece->left);
        $this->right = $this->mono ? $this->left : self::added($this->right, $piece->right);
    }

    /**
     * The frames that no later piece reaches.
     *
     * @param int $count of them, up to a hop
     * @param int $rest  frames from the first of them to the end
     * @param int $fade  frames over which the end fades out
     */
    public function finished(int $count, int $rest = \PHP_INT_MAX, int $fade = 0): StereoBlock
    {
        $gains = $count < $this->hop ? \array_slice($this->even, 0, $count) : $this->even;
        for ($i = max(0, $rest - $fade + 1); $i < $count; ++$i) {
            $gains[$i] *= Window::rise(($rest - $i) / (float) $fade);
        }
        $gains = array_values($gains);
        $left = self::weighed($this->left, $gains);

        return new StereoBlock($left, $this->mono ? $left : self::weighed($this->right, $gains));
    }

    /**
     * @param array<int, float> $sum
     * @param list<float>       $piece
     *
     * @return array<int, float>
     */
    private static function added(array $sum, array $piece): array
    {
        foreach ($piece as $i => $x) {
            $sum[$i] += $x;
        }

        return $sum;
    }

    /**
     * @param array<int, float> $sum
     * @param list<float>       $gains
     *
     * @return list<float>
     */
    private static function weighed(array $sum, array $gains): array
    {
        foreach ($gains as $i => $gain) {
            $gains[$i] = $sum[$i] * $gain;
        }

        return $gains;
    }
}
