<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Analysis\AttackPlace;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Peak;

/**
 * Where a stretch keeps attacks as they are. How Pestle hears gets better; what an edit sounds like stays, so this weighs the
 * peaks of the onset strength by numbers of its own that are not fitted anew. Edits of the first version
 * have them where the energy begins to rise, which over tones that go on is up to 14 ms early.
 */
final class Attacks
{
    /** Of where attacks are found; an edit keeps the one it was made with. */
    public const NEWEST = 2;
    private const LEAST = 0.02;
    /** Log odds from which a peak counts. */
    private const ENOUGH = -0.5;
    /** Least distance of two, in seconds. */
    private const SHORTEST = 0.03;

    /** @return list<int> frames of the source, ascending */
    public static function of(AudioSource $source, OnsetStrength $strength, int $version = self::NEWEST): array
    {
        $found = [];
        $last = -\INF;
        foreach ($strength->all as $i => $value) {
            if ($value < self::LEAST || $value < Peak::of(\array_slice($strength->all, max(0, $i - 4), 9)) || self::likelihood($strength, $i) < self::ENOUGH) {
                continue;
            }
            $frame = 1 === $version ? Onsets::place($source, $i * $strength->hop) : AttackPlace::of($source, $i * $strength->hop);
            if ($frame - $last >= self::SHORTEST * $source->sampleRate()) {
                $found[] = $frame;
                $last = $frame;
            }
        }

        return $found;
    }

    private static function likelihood(OnsetStrength $strength, int $i): float
    {
        $flux = $strength->all;
        $left = $flux[$i - 1] ?? 0.0;
        $right = $flux[$i + 1] ?? 0.0;
        $before = array_sum(\array_slice($flux, max(0, $i - 16), min($i, 16))) / 16.0;
        $after = array_sum(\array_slice($flux, $i + 1, 8)) / 8.0;
        $later = \array_slice($flux, $i + 5, 7);
        $high = Peak::of(\array_slice($strength->high, max(0, $i - 1), 3));

        return 4.2 + 1.81 * self::log($left + $flux[$i] + $right) + 2.17 * self::log(max($left, $right)) + 0.99 * self::log($high)
            - 1.1 * self::log($before) + 0.62 * self::log($after) - 0.79 * self::log(Peak::of($later));
    }

    private static function log(float $x): float
    {
        return log($x + 0.02);
    }
}
