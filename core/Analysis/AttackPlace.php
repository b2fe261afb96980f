<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\Prediction;

/**
 * Where a hit begins, to half a millisecond, also a soft one over tones that go on: where the sound does most that does not
 * follow from what it did before, from 15 ms before a peak of the onset strength to 4 ms after it.
 */
final class AttackPlace
{
    private const BACK_SECONDS = 0.015;
    private const REACH_SECONDS = 0.006;
    private const LEARNED_SECONDS = 0.03;
    private const CELL_SECONDS = 0.00025;
    private const ORDER = 40;
    /** Cells before a rise that it is measured against: 8 ms. */
    private const AGAINST = 32;
    /** A rise begins where there is this share of what is there at its most. */
    private const BEGINS = 0.03;

    /** @param int $frame of the peak, in the source */
    public static function of(AudioSource $source, int $frame): int
    {
        $rate = $source->sampleRate();
        $cell = max(1, (int) round($rate * self::CELL_SECONDS));
        $start = $frame - (int) ($rate * self::BACK_SECONDS) - self::AGAINST * $cell;
        $learned = (int) ($rate * self::LEARNED_SECONDS);
        $count = $learned + $frame + (int) ($rate * self::REACH_SECONDS) - $start;
        $block = $source->read($start - $learned, $count);
        $mono = array_map(static fn (float $l, float $r): float => $l + $r, $block->left, $block->right);
        $new = Prediction::from(\array_slice($mono, 0, $learned), self::ORDER)->unforeseen($mono, $learned);
        $cells = array_map(static fn (array $part): float => 1e-12 + array_sum(array_map(static fn (float $x): float => $x * $x, $part)), array_chunk($new, $cell));
        $best = self::AGAINST;
        $most = 0.0;
        for ($i = self::AGAINST, $last = \count($cells) - 4; $i < $last; ++$i) {
            $was = Peak::of(\array_slice($cells, $i - self::AGAINST, self::AGAINST));
            $is = array_sum(\array_slice($cells, $i, 4)) / 4.0;
            $rise = $is > $was ? log($is / $was) * sqrt($is) : 0.0;
            if ($rise > $most) {
                [$most, $best] = [$rise, $i];
            }
        }
        $there = Peak::of(\array_slice($cells, $best, 4));
        while ($cells[$best] < self::BEGINS * $there) {
            ++$best;
        }

        return max(0, $start + $best * $cell);
    }
}
