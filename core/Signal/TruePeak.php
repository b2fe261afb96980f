<?php

namespace Pestle\Core\Signal;

/**
 * Peaks between the samples, by four-times interpolation with twelve taps a phase.
 * Source: ITU-R BS.1770-4, annex 2; the filter is a windowed sinc (Kaiser, beta 4.5) of the same length.
 */
final class TruePeak
{
    /** Frames that must be known before and after those asked for. */
    public const BEFORE = 5;
    public const AFTER = 6;

    /** @var array{list<float>, list<float>, list<float>}|null half phase; even and odd part of the quarter phase */
    private static ?array $taps = null;
    private static float $gain = 0.0;
    /** Largest root of the sum of squared taps; 1 for the samples themselves. */
    private static float $norm = 1.0;

    /**
     * For every frame the largest absolute value from it up to the next.
     * What can't reach $floor is given as 0.
     *
     * @param list<float> $signal BEFORE + n + AFTER values
     *
     * @return list<float> n values
     */
    public static function peaks(array $signal, float $floor = 0.0): array
    {
        [$half, $even, $odd] = self::$taps ??= self::design();
        // What twelve values can reach between them is bound by their energy (Cauchy-Schwarz).
        $enough = 0.999999 * ($floor / self::$norm) ** 2;

        $around = self::BEFORE + self::AFTER;

        return \count($signal) <= $around ? [] : self::run($signal, $around, $enough, ...$half, ...$even, ...$odd, ...\array_slice($signal, 0, $around));
    }

    /**
     * The numbers come as parameters and every value is checked to be one: the compiler keeps in registers only what it knows the type of.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function run(
        array $signal, int $around, float $enough, float $h0, float $h1, float $h2, float $h3, float $h4, float $h5,
        float $p0, float $p1, float $p2, float $p3, float $p4, float $p5, float $m0, float $m1, float $m2, float $m3, float $m4, float $m5,
        float $b, float $c, float $d, float $e, float $f, float $g, float $h, float $i, float $j, float $k, float $l,
    ): array {
        $out = array_fill(0, \count($signal) - $around, 0.0);
        // a to l are the twelve values around the place between f and g; they move on by one a frame.
        $a = 0.0;
        $energy = $b * $b + $c * $c + $d * $d + $e * $e + $f * $f + $g * $g + $h * $h + $i * $i + $j * $j + $k * $k + $l * $l;
        for ($at = 0, $to = \count($out); $at < $to; ++$at) {
            $next = $signal[$at + $around];
            if (!\is_float($next)) {
                throw new \TypeError('Sound is floats.');
            }
            $energy = $next * $next - $a * $a + $energy;
            $a = $b;
            $b = $c;
            $c = $d;
            $d = $e;
            $e = $f;
            $f = $g;
            $g = $h;
            $h = $i;
            $i = $j;
            $j = $k;
            $k = $l;
            $l = $next;
            if ($energy < $enough) {
                continue;
            }
            $peak = $f < 0.0 ? -$f : $f;
            $s0 = $a + $l;
            $s1 = $b + $k;
            $s2 = $c + $j;
            $s3 = $d + $i;
            $s4 = $e + $h;
            $s5 = $f + $g;
            $v = $h0 * $s0 + $h1 * $s1 + $h2 * $s2 + $h3 * $s3 + $h4 * $s4 + $h5 * $s5;
            if ($v > $peak) {
                $peak = $v;
            } elseif (-$v > $peak) {
                $peak = -$v;
            }
            // A quarter and three quarters of the way mirror each other: sum and difference of these two.
            $v = $p0 * $s0 + $p1 * $s1 + $p2 * $s2 + $p3 * $s3 + $p4 * $s4 + $p5 * $s5;
            $w = $m0 * ($a - $l) + $m1 * ($b - $k) + $m2 * ($c - $j) + $m3 * ($d - $i) + $m4 * ($e - $h) + $m5 * ($f - $g);
            $v = ($v < 0.0 ? -$v : $v) + ($w < 0.0 ? -$w : $w);
            $out[$at] = $v > $peak ? $v : $peak;
        }

        return array_values($out);
    }

    /** How far the interpolation can exceed the samples at most. */
    public static function gain(): float
    {
        self::$taps ??= self::design();

        return self::$gain;
    }

    /** @return array{list<float>, list<float>, list<float>} half phase; even and odd part of the quarter phase; six taps each */
    private static function design(): array
    {
        $phases = [];
        foreach ([0.25, 0.5] as $offset) {
            $taps = [];
            for ($k = -self::BEFORE; $k <= self::AFTER; ++$k) {
                $x = $k - $offset;
                $taps[] = sin(\M_PI * $x) / (\M_PI * $x) * Window::kaiser($x / 6.5, 4.5);
            }
            $sum = array_sum($taps);
            $taps = array_map(static fn (float $tap): float => $tap / $sum, $taps);
            self::$gain = max(self::$gain, array_sum(array_map(abs(...), $taps)));
            self::$norm = max(self::$norm, sqrt(array_sum(array_map(static fn (float $tap): float => $tap * $tap, $taps))));
            $phases[] = $taps;
        }
        [$quarter, $half] = $phases;
        $even = $odd = [];
        for ($k = 0; $k < 6; ++$k) {
            $even[] = ($quarter[$k] + $quarter[11 - $k]) / 2.0;
            $odd[] = ($quarter[$k] - $quarter[11 - $k]) / 2.0;
        }

        return [\array_slice($half, 0, 6), $even, $odd];
    }
}
