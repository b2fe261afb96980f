<?php

namespace Pestle\Core\Theory;

/**
 * The tempo along a line of time, which stands, jumps or goes evenly from one to another, and with it the one way between ticks and
 * time. Where the tempo goes evenly over ticks, the time is the integral of its inverse: 60 / (960 s) ln(b / a) between tempi a and
 * b with a slope of s BPM a tick.
 */
final readonly class TempoMap
{
    /**
     * @param Tempo                                   $tempo  where nothing else is said
     * @param list<array{float, float, float, float}> $pieces tick at which each begins, seconds by then, its tempo in BPM, and by how much that changes a tick; none where it stands
     */
    private function __construct(private Tempo $tempo, private array $pieces = [])
    {
    }

    /** One tempo all along. */
    public static function steady(Tempo $tempo): self
    {
        return new self($tempo);
    }

    /**
     * @param list<array{float, float, float, float}> $ways from tick, tempo there, to tick, tempo there; one after another from 0 on
     */
    public static function along(Tempo $tempo, array $ways): self
    {
        $pieces = [];
        $seconds = 0.0;
        foreach ($ways as [$from, $first, $to, $last]) {
            $before = $pieces[\count($pieces) - 1] ?? null;
            $piece = [$from, $seconds, $first, $to > $from ? ($last - $first) / ($to - $from) : 0.0];
            if (null === $before || 0.0 !== $before[3] || 0.0 !== $piece[3] || $before[2] !== $first) {
                $pieces[] = $piece;
            }
            $seconds += self::lasting($to - $from, $first, $piece[3]);
        }
        $last = $pieces[\count($pieces) - 1] ?? null;
        if (null !== $last && 0.0 !== $last[3]) {
            // Behind its end it stays as it was there.
            $pieces[] = [$ways[\count($ways) - 1][2], $seconds, $ways[\count($ways) - 1][3], 0.0];
        }

        return 1 === \count($pieces) && $pieces[0][2] === $tempo->bpm && 0.0 === $pieces[0][3] ? new self($tempo) : new self($tempo, $pieces);
    }

    /** Whether it is one tempo all along. */
    public function isSteady(): bool
    {
        return [] === $this->pieces;
    }

    /** Whether it is one tempo between two ticks. */
    public function stands(float $from, float $to): bool
    {
        return [] === $this->pieces || (0.0 === $this->piece($from)[3] && $this->last(0, $from) === $this->last(0, max($from, $to - 1e-6)));
    }

    /** What follows from a tick on, counted from there. */
    public function from(float $tick): self
    {
        if ([] === $this->pieces || 0.0 === $tick) {
            return $this;
        }
        $at = $this->seconds($tick);
        $pieces = [[0.0, 0.0, $this->bpm($tick), $this->piece($tick)[3]]];
        foreach ($this->pieces as [$begin, $seconds, $bpm, $slope]) {
            if ($begin > $tick) {
                $pieces[] = [$begin - $tick, $seconds - $at, $bpm, $slope];
            }
        }

        return new self($this->tempo, $pieces);
    }

    public function bpm(float $tick): float
    {
        if ([] === $this->pieces) {
            return $this->tempo->bpm;
        }
        [$begin, , $bpm, $slope] = $this->piece($tick);

        return $bpm + $slope * max(0.0, $tick - $begin);
    }

    public function tempo(float $tick): Tempo
    {
        return [] === $this->pieces ? $this->tempo : Tempo::passing($this->bpm($tick));
    }

    /** The slowest it gets. */
    public function slowest(): Tempo
    {
        return [] === $this->pieces ? $this->tempo : Tempo::passing(min(array_column($this->pieces, 2)));
    }

    /** From its start to a tick; what lies before goes at the tempo it begins with. */
    public function seconds(float $tick): float
    {
        if ([] === $this->pieces) {
            return $this->tempo->seconds($tick);
        }
        [$begin, $seconds, $bpm, $slope] = $this->piece($tick);

        return $seconds + self::lasting($tick - $begin, $bpm, $tick < $begin ? 0.0 : $slope);
    }

    /** Whole frames at $sampleRate (Hz) from its start to a tick, rounded once from the exact time. */
    public function frames(float $tick, int $sampleRate): int
    {
        return [] === $this->pieces ? $this->tempo->frames($tick, $sampleRate) : (int) round($this->seconds($tick) * $sampleRate);
    }

    public function exactTicks(float $seconds): float
    {
        if ([] === $this->pieces) {
            return $this->tempo->exactTicks($seconds);
        }
        [$begin, $from, $bpm, $slope] = $this->pieces[$this->last(1, $seconds)];
        $minutes = ($seconds - $from) * Ticks::PER_QUARTER / 60.0;

        return $begin + (0.0 === $slope || $minutes < 0.0 ? $minutes * $bpm : $bpm * expm1($minutes * $slope) / $slope);
    }

    /** Ticks that go by in some seconds after a tick, or before it where they are negative. */
    public function after(float $tick, float $seconds): float
    {
        return [] === $this->pieces ? $this->tempo->exactTicks($seconds) : $this->exactTicks($this->seconds($tick) + $seconds) - $tick;
    }

    /** How many ticks at the tempo that is set last as long as so many here. */
    public function evened(float $tick, float $ticks): float
    {
        return [] === $this->pieces ? $ticks : $this->tempo->exactTicks($this->seconds($tick + $ticks) - $this->seconds($tick));
    }

    /**
     * Places between which ticks and time go evenly, or nearly: to half a frame at 44.1 kHz.
     *
     * @return list<array{float, float}> tick and seconds, from the start to $until; none where it is one tempo
     */
    public function places(float $until): array
    {
        $places = [];
        foreach ($this->pieces as $i => [$begin, , $bpm, $slope]) {
            $end = min($until, $this->pieces[$i + 1][0] ?? $until);
            // A straight way over a curved one is off by its second derivative times an eighth of its length squared.
            $step = 0.0 === $slope ? $end - $begin : sqrt(8.0 * 1.1e-5 / (60.0 / Ticks::PER_QUARTER * abs($slope) / $bpm ** 2));
            for ($n = max(1, (int) ceil(($end - $begin) / max(1.0, $step))), $k = 0; $k < $n && $begin < $until; ++$k) {
                $tick = $begin + ($end - $begin) * $k / $n;
                $places[] = [$tick, $this->seconds($tick)];
            }
        }

        return [] === $places ? [] : [...$places, [$until, $this->seconds($until)]];
    }

    /** @return array{float, float, float, float} the piece in which a tick lies */
    private function piece(float $tick): array
    {
        return $this->pieces[$this->last(0, $tick)];
    }

    /** @param int<0, 1> $by which of its numbers is at most so much in the piece that is wanted */
    private function last(int $by, float $value): int
    {
        [$low, $high] = [0, max(0, \count($this->pieces) - 1)];
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            [$low, $high] = $this->pieces[$middle][$by] <= $value ? [$middle, $high] : [$low, $middle - 1];
        }

        return $low;
    }

    private static function lasting(float $ticks, float $bpm, float $slope): float
    {
        return 60.0 / Ticks::PER_QUARTER * (0.0 === $slope ? $ticks / $bpm : log1p($slope * $ticks / $bpm) / $slope);
    }
}
