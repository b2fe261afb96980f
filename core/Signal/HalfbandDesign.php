<?php

namespace Pestle\Core\Signal;

/**
 * Coefficients of half-band filters of two branches of first-order all-passes.
 *
 * Source: R. A. Valenzuela and A. G. Constantinides, "Digital signal processing schemes for efficient interpolation and
 * decimation" (IEE Proceedings G 1983); by elliptic functions as given there.
 */
final class HalfbandDesign
{
    /** Coefficients and transition (share of the higher rate) of three steps up: 21 kHz pass at 44.1 kHz, 90 dB and more are held back. */
    private const STEPS = [[8, 0.046], [4, 0.27], [3, 0.38]];

    /** @var list<float> */
    private static array $three = [];

    /** @return list<float> eight, four and three coefficients; every second one belongs to the other branch */
    public static function ofThreeSteps(): array
    {
        return self::$three = self::$three ?: array_merge(...array_map(static fn (array $step): array => self::designed(...$step), self::STEPS));
    }

    /** @return list<float> */
    private static function designed(int $count, float $transition): array
    {
        $k = tan((1.0 - 2.0 * $transition) * \M_PI / 4.0) ** 2;
        $root = (1.0 - $k * $k) ** 0.25;
        $e = 0.5 * (1.0 - $root) / (1.0 + $root);
        $e4 = $e ** 4;
        $q = $e * (1.0 + $e4 * (2.0 + $e4 * (15.0 + 150.0 * $e4)));
        $order = 2 * $count + 1;
        $out = [];
        for ($c = 1; $c <= $count; ++$c) {
            $above = 0.0;
            for ($i = 0; $i < 12; ++$i) {
                $above += (-1) ** $i * $q ** ($i * ($i + 1)) * sin((2 * $i + 1) * $c * \M_PI / $order);
            }
            $below = 0.5;
            for ($i = 1; $i < 12; ++$i) {
                $below += (-1) ** $i * $q ** ($i * $i) * cos(2 * $i * $c * \M_PI / $order);
            }
            $w = ($above * $q ** 0.25 / $below) ** 2;
            $x = sqrt((1.0 - $w * $k) * (1.0 - $w / $k)) / (1.0 + $w);
            $out[] = (1.0 - $x) / (1.0 + $x);
        }

        return $out;
    }
}
