<?php

namespace Pestle\Core\Song;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Shapes to begin a movement with. */
enum Shape: string
{
    case Rise = 'rise';
    case Fall = 'fall';
    case Arch = 'arch';
    case Stair = 'stair';
    case Pulse = 'pulse';
    case Chance = 'chance';

    /** Jumps to the next point when that comes. */
    private const HOLD = 1.0;
    /** Late, as a sound that opens is heard to open evenly. */
    private const LATE = 0.25;

    /**
     * @param float $from  tick it begins at
     * @param float $ticks how long it is
     * @param float $every ticks of a step, where it goes in steps
     * @param int   $seed  of what chance brings
     *
     * @return non-empty-list<array{float, float, float}> tick, share of the way from low to high, and bend
     */
    public function points(float $from, float $ticks, float $every, int $seed): array
    {
        $end = $from + $ticks;
        $steps = max(1, (int) round($ticks / max(1.0, $every)));
        $step = static fn (int $k): float => $from + $ticks * $k / $steps;

        return match ($this) {
            self::Rise => [[$from, 0.0, self::LATE], [$end, 1.0, 0.0]],
            self::Fall => [[$from, 1.0, -self::LATE], [$end, 0.0, 0.0]],
            self::Arch => [[$from, 0.0, -self::LATE], [$from + 0.5 * $ticks, 1.0, self::LATE], [$end, 0.0, 0.0]],
            self::Stair => array_map(static fn (int $k): array => [$step($k), $k / max(1, $steps - 1), self::HOLD], range(0, $steps - 1)),
            self::Pulse => array_merge(...array_map(static fn (int $k): array => [[$step($k), 1.0, self::HOLD], [0.5 * ($step($k) + $step($k + 1)), 0.0, self::HOLD]], range(0, $steps - 1))),
            self::Chance => (static function () use ($steps, $step, $seed): array {
                $chance = new Randomizer(new Xoshiro256StarStar($seed));

                return array_map(static fn (int $k): array => [$step($k), $chance->getInt(0, 1000) / 1000.0, self::HOLD], range(0, $steps - 1));
            })(),
        };
    }
}
