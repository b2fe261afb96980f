<?php

namespace Pestle\Core\Signal;

/**
 * Peaks that twelve taps can't see: where a sound is full of what lies near half the sampling rate, what is between the
 * samples depends on a hundred of them and more. Eight-times interpolation with 256 taps a phase, only where it could matter.
 * Source: F. J. Harris, "Multirate signal processing for communication systems" (2004), polyphase interpolation.
 */
final class IdealPeak
{
    /** Frames that must be known before and after those asked for. */
    public const REACH = 128;
    /** How far all peaks can exceed the samples at most. */
    public const GAIN = 4.2;
    /** Frames on either side that each phase hears in its own way. */
    private const NEAR = 24;
    /** Further away the taps change their sign from frame to frame and hardly their size: so many have one for all. */
    private const GROUP = 8;
    private const BETA = 2.0;
    /** Order of the difference by which what lies near half the rate is told from the rest. */
    private const DIFFERENCE = 8;
    /** Frames on either side that a meter hears, and its window. */
    private const METERED = 16;
    private const METER_BETA = 9.0;
    private const PHASES = 8;
    private const BLOCK = 32;
    /** How much more than the twelve taps find may be there, against the level of the highs around: measured on sounds made to be bad. */
    private const HIDDEN = 0.4;

    /** @var array{list<float>, list<float>, list<float>, list<float>, list<float>, list<float>, list<float>, list<float>}|null even part of phases 1 to 4, odd part of phases 1 to 3, a tap for each distance; then one for each group further away */
    private static ?array $taps = null;
    /** @var list<list<float>>|null */
    private static ?array $metered = null;

    /**
     * Largest absolute value of all sides from every frame up to the next, where it may pass the ceiling; elsewhere what twelve taps find, or 0.
     *
     * @param non-empty-list<list<float>> $sides    REACH + n + REACH values each
     * @param float                       $unseen   share of what lies near half the rate that is added: it reaches further than all taps
     * @param bool                        $asMeters with 32 taps, as meters have
     *
     * @return list<float> n values
     */
    public static function peaks(array $sides, float $ceiling, float $unseen = 0.0, bool $asMeters = false): array
    {
        $frames = \count($sides[0]) - 2 * self::REACH;
        if ($frames < 1) {
            return [];
        }
        $hidden = self::hidden(array_map(self::highs(...), $sides), $frames);
        $floor = $ceiling - Peak::of($hidden);
        if (TruePeak::gain() * max(array_map(Peak::of(...), $sides)) <= $floor) {
            return array_fill(0, $frames, 0.0);
        }
        $floor = max(0.0, $floor);
        $found = array_map(static fn (array $side): array => TruePeak::peaks(\array_slice($side, self::REACH - TruePeak::BEFORE, $frames + TruePeak::BEFORE + TruePeak::AFTER), $floor), $sides);
        $peaks = $found[0];
        foreach (\array_slice($found, 1) as $others) {
            foreach ($others as $i => $p) {
                if ($p > $peaks[$i]) {
                    $peaks[$i] = $p;
                }
            }
        }
        $taps = self::$taps ??= self::design();
        $alternating = [];
        foreach ($hidden as $block => $more) {
            $from = $block * self::BLOCK;
            $there = \array_slice($peaks, $from, self::BLOCK);
            $least = $ceiling - $more;
            if (Peak::of($there) <= $least) {
                continue;
            }
            // The highest first: what stays below it changes nothing, as a gain is held for longer than a block.
            $first = (int) array_search(Peak::of($there), $there, true);
            foreach ([$first => $there[$first]] + $there as $i => $peak) {
                if ($peak <= $least) {
                    continue;
                }
                $at = $from + $i;
                foreach ($sides as $side => $signal) {
                    if ($found[$side][$at] > $least) {
                        $peaks[$at] = max($peaks[$at], $asMeters ? self::metered($signal, $at + self::REACH) : self::between($signal, $alternating[$side] ??= self::alternating($signal), $at + self::REACH, ...$taps));
                    }
                }
                $least = max($least, $peaks[$at] - $more);
            }
        }

        return array_values($unseen > 0.0 && Peak::of($peaks) + $unseen / self::HIDDEN * Peak::of($hidden) > $ceiling ? self::raised($peaks, self::brightest($sides), $unseen) : $peaks);
    }

    /**
     * With a share of the most that lies near half the rate in reach on top; where no peak was looked for there is none. Frame by frame, so
     * that it does not matter in what pieces a sound comes.
     *
     * @param array<int, float> $peaks
     * @param list<float>       $bright level of what lies near half the rate at each frame, those in reach included
     *
     * @return array<int, float>
     */
    private static function raised(array $peaks, array $bright, float $share): array
    {
        // The largest in a window, from those up to and from the edges of blocks as long as it (van Herk and Gil-Werman).
        $size = 2 * self::REACH + 1 - self::DIFFERENCE;
        $upTo = $from = $bright;
        for ($i = 1, $n = \count($bright); $i < $n; ++$i) {
            if (0 !== $i % $size && $upTo[$i - 1] > $upTo[$i]) {
                $upTo[$i] = $upTo[$i - 1];
            }
        }
        for ($i = $n - 2; $i >= 0; --$i) {
            if (0 !== ($i + 1) % $size && $from[$i + 1] > $from[$i]) {
                $from[$i] = $from[$i + 1];
            }
        }
        foreach ($peaks as $i => $peak) {
            if ($peak > 0.0) {
                // The first frames are not known from all that they are made of.
                $most = $from[$i + self::DIFFERENCE];
                $last = $upTo[$i + 2 * self::REACH];
                $peaks[$i] = $peak + $share * ($last > $most ? $last : $most);
            }
        }

        return $peaks;
    }

    /**
     * A fourth difference: half the rate stays as it is.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function difference(array $signal): array
    {
        $a = $b = $c = $d = 0.0;
        foreach ($signal as $i => $e) {
            if (!\is_float($e)) {
                throw new \TypeError('Sound is floats.');
            }
            $signal[$i] = 0.0625 * ($a + $e - 4.0 * ($b + $d) + 6.0 * $c);
            $a = $b;
            $b = $c;
            $c = $d;
            $d = $e;
        }

        return $signal;
    }

    /**
     * @param non-empty-list<list<float>> $sides
     *
     * @return list<float> level of what lies near half the rate, above 16 kHz of 44.1, of all sides at each frame
     */
    private static function brightest(array $sides): array
    {
        $bright = array_fill(0, \count($sides[0]), 0.0);
        foreach ($sides as $signal) {
            for ($n = self::DIFFERENCE; $n > 0; $n -= 4) {
                $signal = self::difference($signal);
            }
            foreach ($signal as $i => $high) {
                $high = $high < 0.0 ? -$high : $high;
                if ($high > $bright[$i] && $i >= self::DIFFERENCE) {
                    $bright[$i] = $high;
                }
            }
        }

        return array_values($bright);
    }

    /**
     * The largest value of the highs in every block: a fourth difference, which half the rate passes as it is and a quarter of it 12 dB softer.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function highs(array $signal): array
    {
        $highs = [];
        $most = 0.0;
        $a = $b = $c = $d = 0.0;
        foreach ($signal as $i => $e) {
            if (!\is_float($e)) {
                throw new \TypeError('Sound is floats.');
            }
            $high = $a + $e - 4.0 * ($b + $d) + 6.0 * $c;
            if ($high > $most) {
                $most = $high;
            } elseif (-$high > $most) {
                $most = -$high;
            }
            $a = $b;
            $b = $c;
            $c = $d;
            $d = $e;
            if (31 === ($i & 31)) {
                $highs[] = $most * 0.0625;
                $most = 0.0;
            }
        }
        $highs[] = $most * 0.0625;

        return $highs;
    }

    /**
     * How much more than the twelve taps find may be there, for every block of the frames asked for.
     *
     * @param non-empty-list<list<float>> $highs of all blocks of every side, those in reach included
     *
     * @return list<float>
     */
    private static function hidden(array $highs, int $frames): array
    {
        $blocks = (int) ceil($frames / self::BLOCK);
        $around = 2 * intdiv(self::REACH, self::BLOCK) + 1;
        $hidden = [];
        for ($b = 0; $b < $blocks; ++$b) {
            $hidden[] = self::HIDDEN * max(array_map(static fn (array $side): float => Peak::of(\array_slice($side, $b, $around)), $highs));
        }

        return $hidden;
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float> sums of all before each frame, every second turned
     */
    private static function alternating(array $signal): array
    {
        $sums = [0.0];
        $sum = 0.0;
        $sign = 1.0;
        foreach ($signal as $x) {
            $sum += $sign * $x;
            $sums[] = $sum;
            $sign = -$sign;
        }

        return $sums;
    }

    /**
     * As between(), with as many taps as meters have that others go by: more of them find more, which nobody else would read.
     *
     * @param list<float> $signal
     */
    private static function metered(array $signal, int $at): float
    {
        $most = 0.0;
        foreach (self::$metered ??= self::meter() as $taps) {
            $value = 0.0;
            foreach ($taps as $k => $tap) {
                $value += $tap * $signal[$at - self::METERED + 1 + $k];
            }
            $most = max($most, abs($value));
        }

        return $most;
    }

    /** @return list<list<float>> taps of each phase */
    private static function meter(): array
    {
        $phases = [];
        for ($phase = 1; $phase < self::PHASES; ++$phase) {
            $taps = [];
            for ($k = 1 - self::METERED; $k <= self::METERED; ++$k) {
                $x = $k - $phase / self::PHASES;
                $taps[] = sin(\M_PI * $x) / (\M_PI * $x) * Window::kaiser($x / (self::METERED + 0.5), self::METER_BETA);
            }
            $phases[] = $taps;
        }

        return $phases;
    }

    /**
     * The largest absolute value after frame $at, up to the next.
     *
     * @param list<float> $signal
     * @param list<float> $alternating sums of all before a frame, every second turned
     * @param list<float> $e1
     * @param list<float> $e2
     * @param list<float> $e3
     * @param list<float> $half
     * @param list<float> $o1
     * @param list<float> $o2
     * @param list<float> $o3
     * @param list<float> $far
     */
    private static function between(array $signal, array $alternating, int $at, array $e1, array $e2, array $e3, array $half, array $o1, array $o2, array $o3, array $far): float
    {
        $a = $b = $c = $h = $p = $q = $r = $f = 0.0;
        for ($k = 0; $k < self::NEAR; ++$k) {
            $x = $signal[$at - $k];
            $y = $signal[$at + 1 + $k];
            if (!\is_float($x) || !\is_float($y)) {
                throw new \TypeError('Sound is floats.');
            }
            $sum = $x + $y;
            $difference = $x - $y;
            $h = $half[$k] * $sum + $h;
            $a = $e1[$k] * $sum + $a;
            $b = $e2[$k] * $sum + $b;
            $c = $e3[$k] * $sum + $c;
            $p = $o1[$k] * $difference + $p;
            $q = $o2[$k] * $difference + $q;
            $r = $o3[$k] * $difference + $r;
        }
        $k = self::NEAR;
        foreach ($far as $tap) {
            $f += $tap * ($alternating[$at - $k + 1] - $alternating[$at - $k + 1 - self::GROUP] - $alternating[$at + 1 + $k + self::GROUP] + $alternating[$at + 1 + $k]);
            $k += self::GROUP;
        }
        if (1 === ($at & 1)) {
            $f = -$f;
        }

        // From far away, the phases differ by how much of it they hear: the sine of their place.
        return max(abs($h + $f), abs($a + 0.382683 * $f) + abs($p), abs($b + 0.707107 * $f) + abs($q), abs($c + 0.923880 * $f) + abs($r));
    }

    /** @return array{list<float>, list<float>, list<float>, list<float>, list<float>, list<float>, list<float>, list<float>} */
    private static function design(): array
    {
        $even = $odd = [];
        for ($phase = 1; $phase <= self::PHASES / 2; ++$phase) {
            $even[$phase] = $odd[$phase] = [];
            for ($k = 0; $k < self::NEAR; ++$k) {
                // The frame $k before the one it follows, and the one $k after the next.
                [$before, $after] = [self::tap($phase / self::PHASES + $k), self::tap($phase / self::PHASES - $k - 1)];
                $even[$phase][] = ($before + $after) / 2.0;
                $odd[$phase][] = ($before - $after) / 2.0;
            }
        }

        $far = [];
        for ($k = self::NEAR; $k < self::REACH; $k += self::GROUP) {
            $far[] = array_sum(array_map(static fn (int $i): float => abs(self::tap(0.5 + $k + $i)), range(0, self::GROUP - 1))) / self::GROUP;
        }

        return [$even[1], $even[2], $even[3], $even[4], $odd[1], $odd[2], $odd[3], $far];
    }

    private static function tap(float $x): float
    {
        return sin(\M_PI * $x) / (\M_PI * $x) * Window::kaiser($x / (self::REACH + 0.5), self::BETA);
    }
}
