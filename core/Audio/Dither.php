<?php

namespace Pestle\Core\Audio;

use Pestle\Core\Signal\Noise;

/**
 * Triangular dither of two steps' width, added before rounding, so that the rounding error
 * is noise and not distortion. Seeded: the same sound is written the same.
 * Source: Lipshitz, Wannamaker and Vanderkooy, "Quantization and dither: a theoretical survey" (JAES 1992).
 */
final class Dither
{
    private readonly Noise $noise;

    /** @param bool $shaped whether the rounding error is moved to where ears hear least */
    public function __construct(int $seed = 1, public readonly bool $shaped = false)
    {
        $this->noise = new Noise($seed);
    }

    /** @return list<float> in steps, between -1 and 1 */
    public function block(int $count): array
    {
        $second = $this->noise->block($count);
        $out = [];
        foreach ($this->noise->block($count) as $i => $first) {
            $out[] = 0.5 * ($first + $second[$i]);
        }

        return $out;
    }
}
