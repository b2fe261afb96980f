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
    private const BLOCK = 16;

    /** @var array{list<float>, list<float>}|null quarter and half phase */
    private static ?array $taps = null;
    private static float $gain = 0.0;
    /** Largest root of the sum of squared taps; 1 for the samples themselves. */
    private static float $norm = 1.0;

    /**
     * For every frame the largest absolute value from it up to the next.
     * Stretches that can't reach $floor are given as 0.
     *
     * @param list<float> $signal BEFORE + n + AFTER values
     *
     * @return list<float> n values
     */
    public static function peaks(array $signal, float $floor = 0.0): array
    {
        [$quarter, $half] = self::$taps ??= self::design();
        [$q0, $q1, $q2, $q3, $q4, $q5, $q6, $q7, $q8, $q9, $qa, $qb] = $quarter;
        [$h0, $h1, $h2, $h3, $h4, $h5] = $half;
        $n = \count($signal) - self::BEFORE - self::AFTER;
        // What some values can reach between them is bound by their energy (Cauchy-Schwarz) and by their peak.
        $enough = 0.999999 * ($floor / self::$norm) ** 2;
        $fewest = 0.999999 * ($floor / self::$gain) ** 2;
        $out = [];
        for ($at = 0; $at < $n; $at += self::BLOCK) {
            $end = $at + self::BLOCK < $n ? $at + self::BLOCK : $n;
            $energy = $most = 0.0;
            for ($i = $at, $last = $end + self::BEFORE + self::AFTER; $i < $last; ++$i) {
                $x = $signal[$i] * $signal[$i];
                $energy += $x;
                if ($x > $most) {
                    $most = $x;
                }
            }
            if ($energy < $enough || $most < $fewest || 0.0 === $energy) {
                for ($i = $at; $i < $end; ++$i) {
                    $out[] = 0.0;
                }
                continue;
            }
            // a to l are the twelve values around the place between f and g; they move on by one a frame.
            $a = 0.0;
            [$b, $c, $d, $e, $f, $g, $h, $i1, $j, $k, $l] = \array_slice($signal, $at, self::BEFORE + self::AFTER);
            for ($i = $at + self::BEFORE + self::AFTER; $i < $last; ++$i) {
                $a = $b;
                $b = $c;
                $c = $d;
                $d = $e;
                $e = $f;
                $f = $g;
                $g = $h;
                $h = $i1;
                $i1 = $j;
                $j = $k;
                $k = $l;
                $l = $signal[$i];
                $peak = $f < 0.0 ? -$f : $f;
                $v = $q0 * $a + $q1 * $b + $q2 * $c + $q3 * $d + $q4 * $e + $q5 * $f + $q6 * $g + $q7 * $h + $q8 * $i1 + $q9 * $j + $qa * $k + $qb * $l;
                if ($v > $peak) {
                    $peak = $v;
                } elseif (-$v > $peak) {
                    $peak = -$v;
                }
                $v = $h0 * ($a + $l) + $h1 * ($b + $k) + $h2 * ($c + $j) + $h3 * ($d + $i1) + $h4 * ($e + $h) + $h5 * ($f + $g);
                if ($v > $peak) {
                    $peak = $v;
                } elseif (-$v > $peak) {
                    $peak = -$v;
                }
                $v = $qb * $a + $qa * $b + $q9 * $c + $q8 * $d + $q7 * $e + $q6 * $f + $q5 * $g + $q4 * $h + $q3 * $i1 + $q2 * $j + $q1 * $k + $q0 * $l;
                if ($v > $peak) {
                    $peak = $v;
                } elseif (-$v > $peak) {
                    $peak = -$v;
                }
                $out[] = $peak;
            }
        }

        return $out;
    }

    /** How far the interpolation can exceed the samples at most. */
    public static function gain(): float
    {
        self::$taps ??= self::design();

        return self::$gain;
    }

    /** @return array{list<float>, list<float>} */
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

        return [$phases[0], $phases[1]];
    }
}
