<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Ticks;

/** The grooves that come with Pestle, each computed from a rule of its own; docs/grooves.md says which. */
final class Grooves
{
    private const STEP = Ticks::PER_STEP;

    /** @var array<string, Groove>|null */
    private static ?array $all = null;

    /** @return array<string, Groove> by id */
    public static function all(): array
    {
        return self::$all ??= array_column([
            self::of('kettle', 'Kettle', 16, static fn (int $i): array => [1 === $i % 2 ? 0.16 : 0.0, [1.12, 0.72, 0.96, 0.78][$i % 4]]),
            self::of('late-cart', 'Late cart', 16, static fn (int $i): array => [[0.0, 0.06, 0.05, 0.09][$i % 4] + (4 === $i % 8 ? 0.075 : 0.0), 4 === $i % 8 ? 1.15 : [1.0, 0.7, 0.85, 0.72][$i % 4]]),
            self::of('push', 'Push', 16, static fn (int $i): array => [2 === $i % 4 ? -0.07 : (1 === $i % 2 ? -0.04 : 0.0), [1.0, 0.75, 1.08, 0.8][$i % 4]]),
            self::of('third-lean', 'Third lean', 16, static fn (int $i): array => [1 === $i % 2 ? 1.0 / 3.0 : 0.0, [1.1, 0.66, 0.98, 0.7][$i % 4]]),
            self::of('stall-shuffle', 'Stall shuffle', 8, static fn (int $i): array => [1 === $i % 2 ? 0.28 : 0.0, [1.1, 0.74][$i % 2]], 2 * self::STEP),
            self::of('sway', 'Lantern sway', 32, static fn (int $i): array => [0.09 * sin(2 * \M_PI * $i / 32) + (1 === $i % 2 ? 0.1 : 0.0), 1.0 + 0.16 * cos(2 * \M_PI * $i / 16) - (1 === $i % 2 ? 0.22 : 0.0)]),
            self::of('cobbles', 'Wet cobbles', 32, static fn (int $i): array => [0.11 * self::uneven($i) + (1 === $i % 2 ? 0.08 : 0.0), 0.92 + 0.2 * self::uneven($i + 71)]),
            self::of('broom', 'Broom', 16, static fn (int $i): array => [0.0, [1.15, 0.68, 0.92, 0.68][$i % 4] * (12 <= $i ? 1.06 : 1.0)]),
            self::of('drag', 'Drag', 16, static fn (int $i): array => [0 === $i % 16 ? 0.0 : 0.1 + 0.05 * (1 === $i % 2 ? 1 : 0), [1.05, 0.74, 0.94, 0.78][$i % 4]]),
            self::of('half-lean', 'Half lean', 16, static fn (int $i): array => [[0.0, 0.12, 0.04, 0.2][$i % 4], [1.08, 0.7, 1.0, 0.82][$i % 4]]),
        ], null, 'id');
    }

    /** @param \Closure(int): array{float, float} $rule part of a place that a hit lies behind it, and its loudness, by its number */
    private static function of(string $id, string $name, int $count, \Closure $rule, int $grid = self::STEP): Groove
    {
        return new Groove($id, $name, $grid, array_map(static function (int $i) use ($rule, $grid): array {
            [$late, $level] = $rule($i);

            return [round($late * $grid, 2), $level];
        }, range(0, $count - 1)));
    }

    /** Always the same number between -1 and 1: the sum of two sines of no common measure. */
    private static function uneven(int $i): float
    {
        return 0.6 * sin(2.399963 * $i) + 0.4 * sin(5.083 * $i + 1.0);
    }
}
