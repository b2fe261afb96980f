<?php

namespace Pestle\Core\Mix;

/** A sine by the frame it is wanted for: from a table, so that it is the same in blocks of any size. */
final class Wave
{
    private const PLACES = 4096;
    /** @var list<float> */
    private static array $table = [];

    /**
     * @param float $turns a frame
     * @param float $phase in turns
     *
     * @return list<float> -1 to 1
     */
    public static function sine(int $at, int $count, float $turns, float $phase = 0.0): array
    {
        if ([] === self::$table) {
            for ($i = 0; $i <= self::PLACES; ++$i) {
                self::$table[] = sin(2.0 * \M_PI * $i / self::PLACES);
            }
        }

        return self::read(self::$table, $at, $count, $turns, $phase, (float) self::PLACES);
    }

    /**
     * @param list<float> $table
     *
     * @return list<float>
     */
    private static function read(array $table, int $at, int $count, float $turns, float $phase, float $places): array
    {
        $out = [];
        for ($i = 0; $i < $count; ++$i) {
            $turn = ($at + $i) * $turns + $phase;
            $place = ($turn - (int) $turn) * $places;
            $k = (int) $place;
            $a = $table[$k];
            $b = $table[$k + 1];
            if (!\is_float($a) || !\is_float($b)) {
                throw new \TypeError('Waves are floats.');
            }
            $out[] = $a + ($place - $k) * ($b - $a);
        }

        return $out;
    }
}
