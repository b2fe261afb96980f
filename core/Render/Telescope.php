<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Gain;

/**
 * Splits what a stage makes of a sum into what it makes of the parts, so that they add up exactly.
 *
 * A stage rounds its output, so the stage's outputs for single parts would not quite add up to its output
 * for the sum. Part k is therefore the stage's output for the first k parts less that for the first k - 1:
 * within one step of 2^-23 a stage, and the differences telescope to the whole.
 */
final class Telescope
{
    /**
     * @template K of array-key
     *
     * @param array<K, StereoBlock>              $parts
     * @param callable(StereoBlock): StereoBlock $stage what gives silence for silence
     *
     * @return array<K, StereoBlock>
     */
    public static function split(array $parts, int $frames, callable $stage): array
    {
        $sum = $before = null;
        $out = [];
        foreach ($parts as $name => $part) {
            $sum = null === $sum ? $part : Gain::sum([$sum, $part], $frames);
            $after = $stage($sum);
            $out[$name] = null === $before ? $after : Gain::difference($after, $before);
            $before = $after;
        }

        return $out;
    }
}
