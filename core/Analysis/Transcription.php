<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/**
 * The notes of a melodic phrase or a chord loop. Between two places at which something begins, or the strongest pitch
 * changes, the spectrum is looked at once; a note goes on over a place as long as it is not struck anew there.
 */
final class Transcription
{
    /** Longest recording that is listened to, in seconds. */
    public const MOST_SECONDS = 60.0;
    private const HOP_SECONDS = 0.0116;
    private const SHORT_SECONDS = 0.0929;
    private const LONG_SECONDS = 0.1858;
    /** After so long a stroke is over and its note to be heard. */
    private const STROKE_SECONDS = 0.025;
    private const LOOKED_AT_SECONDS = 0.35;
    private const SHORTEST_SECONDS = 0.06;
    /** What is softer against the loudest place is silence. */
    private const SILENCE_DB = -42.0;
    /** A note that is so much stronger behind a place than before was struck anew. */
    private const STRUCK_ANEW = 1.5;
    /** So many frames in a row the strongest pitch is another one, where it changes without a stroke. */
    private const STEADY = 5;

    /** @var list<float> */
    private array $mono = [];

    private function __construct(private readonly AudioSource $source, private readonly int $rate)
    {
        $block = $source->read(0, min($source->frames(), (int) (self::MOST_SECONDS * $this->rate)));
        foreach ($block->left as $i => $left) {
            $this->mono[] = 0.5 * ($left + $block->right[$i]);
        }
    }

    /**
     * @param int $voices most notes at once; 1 for a single line
     *
     * @return list<HeardNote> in order of their start, then pitch
     */
    public static function of(AudioSource $source, int $voices = 4): array
    {
        $self = new self($source, $source->sampleRate());

        return [] === $self->mono ? [] : $self->notes($voices);
    }

    /** @return list<HeardNote> */
    private function notes(int $voices): array
    {
        $loudest = $this->loudest();
        if ($loudest < 1e-5) {
            return [];
        }
        $long = new Pitches($this->rate, (int) (self::LONG_SECONDS * $this->rate));
        $short = new Pitches($this->rate, (int) (self::SHORT_SECONDS * $this->rate));
        $places = $this->places($short, $loudest);
        $open = $notes = [];
        $count = \count($places);
        foreach ($places as $i => $from) {
            $to = $places[$i + 1] ?? \count($this->mono);
            $level = $this->level($from, min($to, $from + (int) (0.12 * $this->rate)));
            $found = 20.0 * log10(max(1e-9, $level / $loudest)) < self::SILENCE_DB ? [] : $this->between($long, $short, $from, $to, $voices);
            $top = [] === $found ? 1.0 : max($found);
            foreach ($open as $pitch => $note) {
                if (!isset($found[$pitch]) || $this->isStruckAnew($short, (int) $pitch, $from)) {
                    $notes[] = $this->ended($short, (int) $pitch, $note, $from);
                    unset($open[$pitch]);
                }
            }
            foreach ($found as $pitch => $strength) {
                $open[$pitch] ??= [$from, $level, $strength / $top];
            }
            if ($i === $count - 1) {
                foreach ($open as $pitch => $note) {
                    $notes[] = $this->ended($short, (int) $pitch, $note, \count($this->mono));
                }
            }
        }
        $loud = [] === $notes ? 1.0 : max(array_column($notes, 3));
        $heard = [];
        foreach ($notes as [$pitch, $start, $end, $level, $share]) {
            if ($end - $start >= self::SHORTEST_SECONDS * $this->rate) {
                $relative = $level / $loud;
                $heard[] = new HeardNote($start / $this->rate, $end / $this->rate, $pitch, max(1, min(127, (int) round(24.0 + 100.0 * $relative ** 0.6))), round(min(1.0, $share * min(1.0, 0.4 + 2.0 * $relative)), 3));
            }
        }
        usort($heard, static fn (HeardNote $a, HeardNote $b): int => [$a->start, $a->pitch] <=> [$b->start, $b->pitch]);

        return $heard;
    }

    /**
     * Frames at which the notes may change: where something is struck, and where the strongest pitch becomes another one.
     *
     * @return non-empty-list<int>
     */
    private function places(Pitches $pitches, float $loudest): array
    {
        $onsets = Onsets::find($this->source, 0.55, 0.05);
        $places = array_values(array_filter($onsets, fn (int $frame): bool => $frame < \count($this->mono)));
        $hop = (int) (self::HOP_SECONDS * $this->rate);
        $half = intdiv($pitches->frames, 2);
        $now = null;
        $run = [0, 0];
        for ($at = 0; $at < \count($this->mono); $at += $hop) {
            if (20.0 * log10(max(1e-9, $this->level($at, $at + $hop) / $loudest)) < self::SILENCE_DB) {
                continue;
            }
            $strengths = $pitches->strengths($pitches->flattened($pitches->spectrum($this->slice($at - $half, $pitches->frames))));
            $best = (int) array_search(max($strengths), $strengths, true);
            if ($best !== $run[0]) {
                $run = [$best, $at];
            }
            if ($best !== $now && $at - $run[1] >= (self::STEADY - 1) * $hop) {
                // An octave up or down is the same tone with other weights.
                if (null !== $now && 0 !== abs($best - $now) % 12 && [] === array_filter($places, fn (int $p): bool => abs($p - $run[1]) < 0.07 * $this->rate)) {
                    $places[] = $run[1];
                }
                $now = $best;
            }
        }
        sort($places);

        return [] === $places || $places[0] > 0.05 * $this->rate ? [0, ...$places] : $places;
    }

    /** @return array<int, float> strength by pitch */
    private function between(Pitches $long, Pitches $short, int $from, int $to, int $voices): array
    {
        $begin = $from + (int) (self::STROKE_SECONDS * $this->rate);
        $end = min($to, $from + (int) (self::LOOKED_AT_SECONDS * $this->rate));
        $pitches = $end - $begin >= 0.75 * $long->frames ? $long : $short;
        $sum = null;
        for ($at = $begin; null === $sum || $at + $pitches->frames <= $end; $at += intdiv($pitches->frames, 2)) {
            $spectrum = $pitches->spectrum($this->slice($at, min($pitches->frames, max(1, $to - $at))));
            $sum = null === $sum ? $spectrum : array_map(static fn (float $a, float $b): float => $a + $b, $sum, $spectrum);
        }

        return $pitches->in($sum, $voices);
    }

    private function isStruckAnew(Pitches $pitches, int $pitch, int $at): bool
    {
        $before = $pitches->power($pitches->spectrum($this->slice($at - $pitches->frames, $pitches->frames)), $pitch);
        $after = $pitches->power($pitches->spectrum($this->slice($at + (int) (0.01 * $this->rate), $pitches->frames)), $pitch);

        return $after > self::STRUCK_ANEW * $before;
    }

    /**
     * @param array{int, float, float} $note where it began, its level and its share of the strength
     *
     * @return array{int, int, int, float, float} pitch, start, end, level, share; it ends early where it dies away before
     */
    private function ended(Pitches $pitches, int $pitch, array $note, int $end): array
    {
        [$start, $level, $share] = $note;
        $hop = intdiv($pitches->frames, 2);
        $most = 0.0;
        for ($at = $start; $at < $end; $at += $hop) {
            $power = $pitches->power($pitches->spectrum($this->slice($at, $pitches->frames)), $pitch);
            $most = max($most, $power);
            if ($power < 1e-3 * $most) {
                return [$pitch, $start, min($end, $at + $hop), $level, $share];
            }
        }

        return [$pitch, $start, $end, $level, $share];
    }

    private function loudest(): float
    {
        $step = (int) (0.05 * $this->rate);
        $most = 0.0;
        for ($at = 0; $at < \count($this->mono); $at += $step) {
            $most = max($most, $this->level($at, $at + $step));
        }

        return $most;
    }

    /** Root of the mean square of a stretch. */
    private function level(int $from, int $to): float
    {
        $sum = 0.0;
        $to = min($to, \count($this->mono));
        for ($i = $from; $i < $to; ++$i) {
            $sum += $this->mono[$i] * $this->mono[$i];
        }

        return sqrt($sum / max(1, $to - $from));
    }

    /** @return list<float> */
    private function slice(int $from, int $count): array
    {
        return $from >= 0 ? \array_slice($this->mono, $from, $count) : [...array_fill(0, min($count, -$from), 0.0), ...\array_slice($this->mono, 0, max(0, $count + $from))];
    }
}
