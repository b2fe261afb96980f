<?php

namespace Pestle\Core\Sample;

/**
 * Where the beats of a recording are: marks that hold single lines in their place, and the tempo after the last of
 * them. Between two marks lines lie evenly; at a gradual mark the tempo glides from that of one side to that of the
 * other. (Monotone cubic interpolation: F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 1984.).
 */
final readonly class BeatGrid
{
    public const SLOWEST = 20.0;
    public const FASTEST = 400.0;
    public const MOST_MARKS = 256;
    /** Beats that were heard may lie this far beside even lines, in seconds, and still count as even. */
    private const EVEN = 0.015;

    /**
     * @param non-empty-list<TempoMark> $marks ascending
     * @param float                     $bpm   tempo after the last mark, and before the first when it is the only one
     *
     * @throws \InvalidArgumentException when lines would cross, or lie too near or too far apart
     */
    public function __construct(public array $marks, public float $bpm)
    {
        if (\count($marks) > self::MOST_MARKS) {
            throw new \InvalidArgumentException(\sprintf('A grid holds at most %d marks: take some away.', self::MOST_MARKS));
        }
        self::refuseOutside($bpm);
        foreach ($marks as $i => $mark) {
            // A day before or after, and what a day can hold of beats: further away is no place in a recording.
            if (!(abs($mark->seconds) <= 86400.0) || abs($mark->beat) > 1_000_000) {
                throw new \InvalidArgumentException('A line of a grid must lie within a day of the recording.');
            }
            if ($i > 0) {
                $beats = $mark->beat - $marks[$i - 1]->beat;
                $seconds = $mark->seconds - $marks[$i - 1]->seconds;
                if ($beats < 1 || $seconds < 1e-3) {
                    throw new \InvalidArgumentException('A line can\'t be moved past its neighbour that is held.');
                }
                self::refuseOutside(self::tempo($beats, $seconds));
            }
        }
    }

    /** @param float $downbeat seconds at which a bar begins; may lie before the start */
    public static function even(float $bpm, float $downbeat): self
    {
        return new self([new TempoMark(0, $downbeat)], $bpm);
    }

    /**
     * Through beats that were heard: even where they nearly are, else held at the first beat of bars.
     *
     * @param list<float> $beats    seconds, ascending
     * @param float       $downbeat one of them
     * @param int         $aBar     beats in a bar
     */
    public static function heard(array $beats, float $downbeat, float $bpm, int $aBar = 4): self
    {
        $first = 0;
        foreach ($beats as $i => $beat) {
            $first = abs($beat - $downbeat) < abs($beats[$first] - $downbeat) ? $i : $first;
        }
        $even = self::even($bpm, $downbeat);
        $off = array_map(static fn (int $i, float $beat): float => abs($even->seconds($i - $first) - $beat), array_keys($beats), $beats);
        if (\count($beats) < 8 || max([0.0, ...$off]) < self::EVEN) {
            return $even;
        }
        $last = \count($beats) - 1;
        $step = $aBar * (int) ceil(\count($beats) / $aBar / (self::MOST_MARKS - 2));
        // The outermost ones too, so that what lies beyond goes on at the tempo there.
        $held = array_unique([0, ...range($first % $step, $last, $step), $last]);
        $marks = array_map(static fn (int $i): TempoMark => new TempoMark($i - $first, $beats[$i], true), array_values($held));
        $before = $last - 4;

        try {
            return new self($marks, self::tempo(4, $beats[$last] - $beats[$before]));
        } catch (\InvalidArgumentException) {
            return $even;
        }
    }

    /**
     * Tempo of a stretch that is so many beats long: 60 x beats / seconds.
     *
     * @throws \InvalidArgumentException when it has no length
     */
    public static function tempo(float $beats, float $seconds): float
    {
        if ($seconds <= 0.0) {
            throw new \InvalidArgumentException('A stretch has to end after it begins.');
        }

        return 60.0 * $beats / $seconds;
    }

    /**
     * Tempo of beats that were tapped, by the line that fits them best.
     *
     * @param list<float> $taps seconds, ascending, at least four
     *
     * @throws \InvalidArgumentException
     */
    public static function tapped(array $taps): float
    {
        $n = \count($taps);
        if ($n < 4) {
            throw new \InvalidArgumentException('Tap at least four times.');
        }
        $middle = ($n - 1) / 2.0;
        $sum = $squares = 0.0;
        foreach ($taps as $i => $seconds) {
            $sum += ($i - $middle) * ($seconds - $taps[0]);
            $squares += ($i - $middle) ** 2;
        }
        if ($sum <= 0.0) {
            throw new \InvalidArgumentException('Taps must follow one another.');
        }
        $bpm = 60.0 * $squares / $sum;
        self::refuseOutside($bpm);

        return $bpm;
    }

    /** Where a beat lies, in seconds; between lines too. */
    public function seconds(float $beat): float
    {
        $i = $this->segment(static fn (TempoMark $mark): bool => $mark->beat <= $beat);
        $mark = $this->marks[max(0, $i)];
        if ($i < 0 || !isset($this->marks[$i + 1])) {
            return $mark->seconds + ($beat - $mark->beat) * ($i < 0 ? $this->pace(0) : 60.0 / $this->bpm);
        }
        $next = $this->marks[$i + 1];
        $beats = (float) ($next->beat - $mark->beat);
        $t = ($beat - $mark->beat) / $beats;
        $rest = 1.0 - $t;
        $in = $this->slope($i, $i) * $beats;
        $out = $this->slope($i + 1, $i) * $beats;

        return $mark->seconds * $rest * $rest * (1.0 + 2.0 * $t) + $in * $t * $rest * $rest
            + $next->seconds * $t * $t * (3.0 - 2.0 * $t) - $out * $t * $t * $rest;
    }

    /** Which beat is at a time; with its fraction. */
    public function beat(float $seconds): float
    {
        $i = $this->segment(static fn (TempoMark $mark): bool => $mark->seconds <= $seconds);
        $mark = $this->marks[max(0, $i)];
        if ($i < 0 || !isset($this->marks[$i + 1])) {
            return $mark->beat + ($seconds - $mark->seconds) / ($i < 0 ? $this->pace(0) : 60.0 / $this->bpm);
        }
        [$low, $high] = [(float) $mark->beat, (float) $this->marks[$i + 1]->beat];
        for ($k = 0; $k < 48; ++$k) {
            $middle = 0.5 * ($low + $high);
            [$low, $high] = $this->seconds($middle) <= $seconds ? [$middle, $high] : [$low, $middle];
        }

        return 0.5 * ($low + $high);
    }

    /**
     * All lines in a recording.
     *
     * @return array<int, int> frame of each beat, ascending; bars begin where the number divides by the beats in one
     */
    public function lines(int $frames, int $rate): array
    {
        $lines = [];
        for ($beat = (int) ceil($this->beat(0.0) - 1e-6); ($frame = (int) round($this->seconds($beat) * $rate)) < $frames; ++$beat) {
            $lines[$beat] = max(0, $frame);
        }

        return $lines;
    }

    /** Tempo over a recording, of all its beats together. */
    public function meanBpm(float $seconds): float
    {
        return 1 === \count($this->marks) ? $this->bpm : self::tempo($this->beat($seconds) - $this->beat(0.0), $seconds);
    }

    /** Tempo from a mark to the next. */
    public function bpmAfter(int $index): float
    {
        return 60.0 / $this->pace($index);
    }

    public function isEven(): bool
    {
        return 1 === \count($this->marks);
    }

    /** Holds a line in another place. What comes after the last mark goes on at the tempo that leads up to it. */
    public function moved(int $beat, float $seconds): self
    {
        $marks = $this->held($beat, $seconds);
        $last = \count($marks) - 1;
        $leads = $last > 0 && $marks[$last]->beat === $beat;

        return new self($marks, $leads ? self::tempo($beat - $marks[$last - 1]->beat, $seconds - $marks[$last - 1]->seconds) : $this->bpm);
    }

    /** Spreads lines from the mark before a line on, so that it comes to lie in its new place; all after it follow at the same tempo. */
    public function spread(int $beat, float $seconds): self
    {
        $i = max(0, $this->segment(static fn (TempoMark $mark): bool => $mark->beat < $beat));
        $from = $this->marks[$i];
        if ($beat === $from->beat || ($seconds - $from->seconds) * ($beat - $from->beat) <= 0.0) {
            throw new \InvalidArgumentException('Lines are spread from the mark before: move this one itself to shift the grid.');
        }

        return new self(\array_slice($this->marks, 0, $i + 1), self::tempo($beat - $from->beat, $seconds - $from->seconds));
    }

    public function shifted(float $seconds): self
    {
        return new self(array_map(static fn (TempoMark $m): TempoMark => new TempoMark($m->beat, $m->seconds + $seconds, $m->gradual), $this->marks), $this->bpm);
    }

    /** The first bar begins at $seconds: the nearest line comes to lie there, all others with it, and bars are counted from it. */
    public function from(float $seconds): self
    {
        $beat = (int) round($this->beat($seconds));
        $shifted = $this->shifted($seconds - $this->seconds($beat));

        return new self(array_map(static fn (TempoMark $m): TempoMark => new TempoMark($m->beat - $beat, $m->seconds, $m->gradual), $shifted->marks), $this->bpm);
    }

    /** From a line on another tempo, the marks after it gone; from the first mark on when none is named. */
    public function withTempo(float $bpm, ?int $beat = null): self
    {
        if (null === $beat) {
            return self::even($bpm, $this->seconds(0.0));
        }
        $kept = array_values(array_filter($this->held($beat, $this->seconds($beat)), static fn (TempoMark $m): bool => $m->beat <= $beat));

        return new self([] === $kept ? $this->marks : $kept, $bpm);
    }

    /** Misread by a factor: twice as many beats, or three for every four. Marks whose beat is no longer a whole one go. */
    public function times(float $factor): self
    {
        $marks = [];
        foreach ($this->marks as $mark) {
            $beat = $mark->beat * $factor;
            if (abs($beat - round($beat)) < 1e-6) {
                $marks[] = new TempoMark((int) round($beat), $mark->seconds, $mark->gradual);
            }
        }

        return new self([] === $marks ? [new TempoMark(0, $this->seconds(0.0))] : $marks, $this->bpm * $factor);
    }

    /** A stretch is so many beats long: it gets a mark at both ends, and bars are counted from its start when they are not marked yet. */
    public function stretch(float $from, float $to, int $beats): self
    {
        $bpm = self::tempo($beats, $to - $from);
        if ($this->isEven()) {
            return self::even($bpm, $from);
        }
        $beat = (int) round($this->beat($from));
        $kept = array_values(array_filter($this->marks, static fn (TempoMark $m): bool => $m->beat < $beat && $m->seconds < $from - 1e-3));

        return new self([...$kept, new TempoMark($beat, $from), new TempoMark($beat + $beats, $to)], $bpm);
    }

    /** Lets a line go; the last mark stays. */
    public function without(int $beat): self
    {
        $marks = array_values(array_filter($this->marks, static fn (TempoMark $m): bool => $m->beat !== $beat));
        if ([] === $marks) {
            throw new \InvalidArgumentException('One mark has to stay: it says where the first bar begins.');
        }

        return new self($marks, $this->bpm);
    }

    /** Only the first mark stays, with the tempo of the whole. */
    public function cleared(float $seconds): self
    {
        return self::even($this->meanBpm($seconds), $this->seconds(0.0));
    }

    public function changing(int $beat, bool $gradual): self
    {
        return new self(array_map(static fn (TempoMark $m): TempoMark => $m->beat === $beat ? new TempoMark($beat, $m->seconds, $gradual) : $m, $this->marks), $this->bpm);
    }

    /** As it is kept: the tempo, then a row of beat, seconds and 1 for gradual a mark. */
    public function encode(): string
    {
        $rows = array_map(static fn (TempoMark $m): array => [$m->beat, round($m->seconds, 6), (int) $m->gradual], $this->marks);

        return json_encode([round($this->bpm, 6), ...$rows], \JSON_THROW_ON_ERROR);
    }

    /** @throws \InvalidArgumentException when it isn't what encode() writes */
    public static function decode(string $json): self
    {
        $rows = json_decode($json, true, 4);
        if (!\is_array($rows) || !array_is_list($rows) || !is_numeric($rows[0] ?? null) || \count($rows) < 2) {
            throw new \InvalidArgumentException('A grid is a list: the tempo, then a row for each mark.');
        }
        $marks = [];
        foreach (\array_slice($rows, 1) as $row) {
            if (!\is_array($row) || !\is_int($row[0] ?? null) || !is_numeric($row[1] ?? null)) {
                throw new \InvalidArgumentException('A mark of a grid is a row of beat, seconds and 0 or 1.');
            }
            $marks[] = new TempoMark($row[0], (float) $row[1], 1 === ($row[2] ?? 0));
        }

        return new self($marks, (float) $rows[0]);
    }

    /** @return non-empty-list<TempoMark> with a line held in a place */
    private function held(int $beat, float $seconds): array
    {
        $marks = [];
        $gradual = false;
        foreach ($this->marks as $mark) {
            $gradual = $mark->beat === $beat ? $mark->gradual : $gradual;
            if ($mark->beat !== $beat) {
                $marks[] = $mark;
            }
        }
        $marks[] = new TempoMark($beat, $seconds, $gradual);
        usort($marks, static fn (TempoMark $a, TempoMark $b): int => $a->beat <=> $b->beat);

        return $marks;
    }

    /** Seconds a beat takes on average from a mark to the next. */
    private function pace(int $index): float
    {
        $next = $this->marks[$index + 1] ?? null;

        return null === $next ? 60.0 / $this->bpm : ($next->seconds - $this->marks[$index]->seconds) / ($next->beat - $this->marks[$index]->beat);
    }

    /** Seconds a beat takes just at a mark, seen from a segment: its own pace, or a mean of both sides' where it glides. */
    private function slope(int $mark, int $segment): float
    {
        if (!$this->marks[$mark]->gradual || 0 === $mark) {
            return $this->pace($segment);
        }
        [$a, $b] = [$this->pace($mark - 1), $this->pace($mark)];

        return 2.0 * $a * $b / ($a + $b);
    }

    /**
     * Index of the last mark that is before, -1 when none is.
     *
     * @param callable(TempoMark): bool $before
     */
    private function segment(callable $before): int
    {
        [$low, $high] = [-1, \count($this->marks) - 1];
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            [$low, $high] = $before($this->marks[$middle]) ? [$middle, $high] : [$low, $middle - 1];
        }

        return $low;
    }

    private static function refuseOutside(float $bpm): void
    {
        if (!($bpm >= self::SLOWEST && $bpm <= self::FASTEST)) {
            throw new \InvalidArgumentException(\sprintf('That would be %.1f BPM; a grid goes from %d to %d.', $bpm, self::SLOWEST, self::FASTEST));
        }
    }
}
