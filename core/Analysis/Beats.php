<?php

namespace Pestle\Core\Analysis;

/**
 * Where the beats of a recording fall, following a tempo that drifts or changes: the best path over the onset
 * strength whose steps stay near each other. Where it turns out steady, the beats are put on an even grid.
 * Source: D. Ellis, "Beat tracking by dynamic programming" (JNMR 2007), with the last step as part of the state as in
 * F. Krebs, S. Böck and G. Widmer, "An efficient state-space model for joint tempo and meter tracking" (ISMIR 2015).
 */
final readonly class Beats
{
    /** How far a beat may be from the one tempo guessed for the whole. */
    private const RANGE = 1.45;
    /** Cost of a change between neighbouring steps, for each unit of their log ratio. */
    private const CHANGE = 14.0;
    /** How far two neighbouring steps may differ, as a log ratio. */
    private const MOST_CHANGE = 0.25;
    /** Seconds that beats may lie off an even grid, root mean square, to be put on it. */
    private const STEADY_SECONDS = 0.015;
    private const SNAP_SECONDS = 0.03;
    /** How many times more backbeats lie between beats than on them, and how many there are for each beat, where it is off. */
    private const MOSTLY = 3.0;
    private const BACKBEATS = 0.25;

    /**
     * @param list<float> $times     seconds, ascending
     * @param list<float> $downbeats those of them that begin a bar
     * @param bool        $steady    whether the tempo stays the same
     */
    private function __construct(public array $times, public array $downbeats, public bool $steady)
    {
    }

    /**
     * @param list<Hit> $hits
     * @param float     $seconds length of the recording
     */
    public static function follow(OnsetStrength $strength, array $hits, TempoGuess $tempo, float $seconds): self
    {
        $rate = $strength->framesASecond() / 2.0;
        $path = self::path(self::observed($strength), 60.0 / $tempo->bpm * $rate);
        $hitTimes = array_map(static fn (Hit $hit): float => $hit->frame / $strength->hop / $strength->framesASecond(), $hits);
        $times = self::inPhase(self::snapped(array_map(static fn (int $t): float => $t / $rate, $path), $hitTimes), $hits, $hitTimes);
        $even = self::even($times, 60.0 / $tempo->bpm, $seconds);
        $times = $even ?? self::reaching($times, $seconds);
        $aBar = $tempo->meter->meter->countedBeats($tempo->bpm);
        $first = Downbeats::first($times, $hits, $hitTimes, $aBar);
        $downbeats = array_values(array_filter($times, static fn (int $k): bool => $k >= $first && 0 === ($k - $first) % $aBar, \ARRAY_FILTER_USE_KEY));

        return new self($times, $downbeats, null !== $even);
    }

    /** @return list<float> strength at half the rate, evened out, with mean 0 and deviation 1 */
    private static function observed(OnsetStrength $strength): array
    {
        $out = [];
        $all = $strength->all;
        for ($i = 0, $count = \count($all); $i < $count; $i += 2) {
            $out[] = log(1.0 + 5.0 * max($all[$i], $all[$i + 1] ?? 0.0));
        }
        // In place: an hour has 300,000 values.
        $n = \count($out);
        $sum = $squares = $before = 0.0;
        foreach ($out as $i => $x) {
            $smooth = 0.5 * $x + 0.25 * ($before + ($out[$i + 1] ?? 0.0));
            $before = $x;
            $out[$i] = $smooth;
            $sum += $smooth;
            $squares += $smooth * $smooth;
        }
        $mean = $sum / $n;
        $deviation = sqrt(max(0.0, $squares / $n - $mean * $mean)) + 1e-9;
        foreach ($out as $i => $x) {
            $out[$i] = ($x - $mean) / $deviation;
        }

        return $out;
    }

    /**
     * @param list<float> $observed
     * @param float       $usual    step of the guessed tempo
     *
     * @return list<int> places of the beats
     */
    private static function path(array $observed, float $usual): array
    {
        $shortest = max(4, (int) floor($usual / self::RANGE));
        $longest = (int) ceil($usual * self::RANGE);
        $from = $cost = [];
        for ($step = $shortest; $step <= $longest; ++$step) {
            $from[$step] = max($shortest, (int) ceil($step * exp(-self::MOST_CHANGE)));
            for ($before = $from[$step]; $before <= min($longest, (int) floor($step * exp(self::MOST_CHANGE))); ++$before) {
                $cost[$step][] = self::CHANGE * abs(log($step / $before));
            }
        }
        $score = [];
        // For every place and step the step before, as a byte counted from the shortest it may be, 0 for none:
        // a list would take twenty times as much.
        $came = '';
        $width = $longest - $shortest + 1;
        foreach ($observed as $t => $o) {
            $row = $back = [];
            for ($step = $shortest; $step <= $longest; ++$step) {
                $off = log($step / $usual);
                $best = $o - 2.0 * $off * $off;
                $previous = 0;
                if (isset($score[$t - $step])) {
                    $then = $score[$t - $step];
                    $before = $from[$step];
                    foreach ($cost[$step] as $c) {
                        $s = $then[$before] - $c + $o;
                        if ($s > $best) {
                            $best = $s;
                            $previous = $before - $from[$step] + 1;
                        }
                        ++$before;
                    }
                }
                $row[$step] = $best;
                $back[$step] = $previous;
            }
            $score[$t] = $row;
            $came .= pack('C*', ...$back);
            unset($score[$t - $longest]);
        }
        $end = [0, $shortest, -\INF];
        foreach ($score as $t => $row) {
            foreach ($row as $step => $s) {
                if ($s > $end[2]) {
                    $end = [$t, $step, $s];
                }
            }
        }
        [$t, $step] = $end;
        $path = [];
        while ($t >= 0) {
            array_unshift($path, $t);
            $previous = \ord($came[$t * $width + $step - $shortest]);
            $t -= $step;
            if (0 === $previous) {
                // Where the path began there was no beat before.
                break;
            }
            $step = $from[$step] + $previous - 1;
        }

        return $path;
    }

    /**
     * Each beat moved to the nearest hit, where one is near.
     *
     * @param list<float> $times seconds, ascending
     * @param list<float> $hits  seconds, ascending
     *
     * @return list<float>
     */
    private static function snapped(array $times, array $hits): array
    {
        $next = 0;
        $out = [];
        foreach ($times as $time) {
            while (isset($hits[$next]) && $hits[$next] < $time - self::SNAP_SECONDS) {
                ++$next;
            }
            $best = $time;
            $near = self::SNAP_SECONDS;
            for ($i = $next; isset($hits[$i]) && $hits[$i] <= $time + self::SNAP_SECONDS; ++$i) {
                if (abs($hits[$i] - $time) < $near) {
                    $near = abs($hits[$i] - $time);
                    $best = $hits[$i];
                }
            }
            $out[] = $best;
        }

        return $out;
    }

    /**
     * Where snares, claps and rims fall between beats and hardly ever on them, the path was half a beat off: the backbeats tell.
     *
     * @param list<float> $times    seconds, ascending
     * @param list<Hit>   $hits
     * @param list<float> $hitTimes
     *
     * @return list<float>
     */
    private static function inPhase(array $times, array $hits, array $hitTimes): array
    {
        $backbeats = array_values(array_filter($hitTimes, static fn (int $i): bool => \in_array($hits[$i]->kind, [HitKind::Snare, HitKind::Clap, HitKind::Rim], true), \ARRAY_FILTER_USE_KEY));
        $between = array_map(static fn (float $a, float $b): float => 0.5 * ($a + $b), \array_slice($times, 0, -1), \array_slice($times, 1));

        return self::near($between, $backbeats) > max(self::MOSTLY * self::near($times, $backbeats), self::BACKBEATS * \count($times)) ? self::snapped($between, $hitTimes) : $times;
    }

    /**
     * @param list<float> $places seconds, ascending
     * @param list<float> $hits   seconds, ascending
     *
     * @return int how many of the places have a hit
     */
    private static function near(array $places, array $hits): int
    {
        $next = $count = 0;
        foreach ($places as $place) {
            while (isset($hits[$next]) && $hits[$next] < $place - self::SNAP_SECONDS) {
                ++$next;
            }
            $count += isset($hits[$next]) && $hits[$next] <= $place + self::SNAP_SECONDS ? 1 : 0;
        }

        return $count;
    }

    /**
     * The even grid through all beats, from the recording's start to its end, when they lie on one.
     *
     * @param list<float> $times
     *
     * @return list<float>|null
     */
    private static function even(array $times, float $beat, float $seconds): ?array
    {
        if (\count($times) < 3) {
            return null;
        }
        $phase = $rms = 0.0;
        $offsets = array_map(static fn (float $t): float => $t / $beat - round(($t - $times[0]) / $beat), $times);
        sort($offsets);
        $phase = $offsets[intdiv(\count($offsets), 2)];
        foreach ($offsets as $o) {
            $rms += min(0.25, ($o - $phase) ** 2);
        }
        $rms = sqrt($rms / \count($offsets)) * $beat;
        if ($rms > self::STEADY_SECONDS) {
            return null;
        }
        $start = fmod($phase * $beat, $beat);
        $start = $start > $beat - 0.03 ? $start - $beat : $start;
        $out = [];
        for ($t = $start; $t < $seconds - 0.03; $t += $beat) {
            $out[] = max(0.0, $t);
        }

        return $out;
    }

    /**
     * Goes on to the edges in the steps found there.
     *
     * @param list<float> $times
     *
     * @return list<float>
     */
    private static function reaching(array $times, float $seconds): array
    {
        $n = \count($times);
        if ($n < 2) {
            return $times;
        }
        $step = $times[1] - $times[0];
        while ($times[0] - $step > -0.03) {
            array_unshift($times, max(0.0, $times[0] - $step));
        }
        $step = $times[$n - 1] - $times[$n - 2];
        while (end($times) + $step < $seconds - 0.03) {
            $times[] = end($times) + $step;
        }

        return $times;
    }
}
