<?php

namespace Pestle\Core\Audio;

use Pestle\Core\Signal\Peak;

/** A run of stereo frames; both sides have the same number of values, full scale is ±1. */
final readonly class StereoBlock
{
    /**
     * @param list<float> $left
     * @param list<float> $right
     */
    public function __construct(public array $left, public array $right)
    {
    }

    public static function silence(int $frames): self
    {
        $zeros = $frames > 0 ? array_fill(0, $frames, 0.0) : [];

        return new self($zeros, $zeros);
    }

    public function frames(): int
    {
        return \count($this->left);
    }

    public function slice(int $start, int $count): self
    {
        $left = \array_slice($this->left, $start, $count);

        return new self($left, $this->left === $this->right ? $left : \array_slice($this->right, $start, $count));
    }

    public function append(self $next): self
    {
        $left = array_merge($this->left, $next->left);

        return new self($left, $this->left === $this->right && $next->left === $next->right ? $left : array_merge($this->right, $next->right));
    }

    /** Largest absolute value. */
    public function peak(): float
    {
        $left = Peak::of($this->left);

        return $this->left === $this->right ? $left : max($left, Peak::of($this->right));
    }
}
