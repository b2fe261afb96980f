<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;

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
    /** And one that was not there before at least so much. */
    private const BEGUN = 2.0;
    private const VOICES = 4;
    /** How sure a period has to be to stand for all that sounds, and for how much of the time in a single line. */
    private const ONE_PERIOD = 0.8;
    private const MOSTLY = 0.7;
    /** What is softer and shorter is a noise beside the notes. */
    private const FAINT = 0.05;
    private const FAINT_SECONDS = 0.25;
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
     * @param int|null $voices most notes at once; 1 for a single line, null to find out
     *
     * @return list<HeardNote> in order of their start, then pitch
     */
    public static function of(AudioSource $source, ?int $voices = null): array
    {
        $self = new self($source, $source->sampleRate());

        return [] === $self->mono ? [] : $self->notes($voices);
    }

    /** @return list<HeardNote> */
    private function notes(?int $voices): array
    {
        $loudest = $this->loudest();
        if ($loudest < 1e-5) {
            return [];
        }
        $tuning = $this->tuning($loudest);
        $long = new Pitches($this->rate, (int) (self::LONG_SECONDS * $this->rate), $tuning);
        $short = new Pitches($this->rate, (int) (self::SHORT_SECONDS * $this->rate), $tuning);
        $places = $this->places($short, $loudest);
        $single = $this->periods($places, $tuning, $long);
        $voices ??= $this->isSingle($single, $places) ? 1 : self::VOICES;
        $open = $notes = [];
        $count = \count($places);
        foreach ($places as $i => $from) {
            $to = $places[$i + 1] ?? \count($this->mono);
            $level = $this->level($from, min($to, $from + (int) (0.12 * $this->rate)));
            $found = 20.0 * log10(max(1e-9, $level / $loudest)) < self::SILENCE_DB ? [] : $this->between($long, $short, $from, $to, $voices, $single[$i]);
            $top = [] === $found ? 1.0 : max($found);
            foreach ($open as $pitch => $note) {
                if (!isset($found[$pitch]) || $this->rises($short, (int) $pitch, $from) > self::STRUCK_ANEW) {
                    $notes[] = $this->ended($short, (int) $pitch, $note, $from);
                    unset($open[$pitch]);
                }
            }
            foreach ($found as $pitch => $strength) {
                // What is left of tones that die away rises nowhere.
                if (!isset($open[$pitch]) && ($from < self::SHORTEST_SECONDS * $this->rate || $this->rises($short, $pitch, $from) > self::BEGUN)) {
                    $open[$pitch] = [$from, $level, $strength / $top];
                }
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
            $relative = $level / $loud;
            if ($end - $start >= ($relative < self::FAINT ? self::FAINT_SECONDS : self::SHORTEST_SECONDS) * $this->rate) {
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
            $best = [] === $strengths ? 0 : (int) array_search(max($strengths), $strengths, true);
            if ($best !== $run[0]) {
                $run = [$best, $at];
            }
            if ($best !== $now && $at - $run[1] >= (self::STEADY - 1) * $hop) {
                if (null !== $now && [] === array_filter($places, fn (int $p): bool => abs($p - $run[1]) < 0.07 * $this->rate)) {
                    $places[] = $run[1];
                }
                $now = $best;
            }
        }
        sort($places);

        return [] === $places || $places[0] > 0.05 * $this->rate ? [0, ...$places] : $places;
    }

    /** By how many semitones the recording is off, -0.5 to 0.5: where the peaks of its spectra lie between semitones, taken round. */
    private function tuning(float $loudest): float
    {
        $pitches = new Pitches($this->rate, (int) (self::LONG_SECONDS * $this->rate));
        $x = $y = 0.0;
        for ($at = 0, $step = (int) max(0.1 * $this->rate, \count($this->mono) / 60); $at + $pitches->frames < \count($this->mono); $at += $step) {
            if ($this->level($at, $at + $pitches->frames) < 0.1 * $loudest) {
                continue;
            }
            foreach ($pitches->peaks($pitches->spectrum($this->slice($at, $pitches->frames))) as [$semitones, $strength]) {
                $x += $strength * cos(2 * \M_PI * $semitones);
                $y += $strength * sin(2 * \M_PI * $semitones);
            }
        }

        return 0.0 === $x && 0.0 === $y ? 0.0 : atan2($y, $x) / (2 * \M_PI);
    }

    /**
     * The note of each stretch, as if only one sounded; null where that cannot be.
     *
     * @param non-empty-list<int> $places
     *
     * @return list<array{float, float}|null> semitones less the tuning, and how sure
     */
    private function periods(array $places, float $tuning, Pitches $pitches): array
    {
        return array_map(function (int $i) use ($places, $tuning, $pitches): ?array {
            $from = $places[$i] + (int) (0.5 * self::STROKE_SECONDS * $this->rate);
            $to = min($places[$i + 1] ?? \count($this->mono), $from + (int) (self::LOOKED_AT_SECONDS * $this->rate));
            $values = $this->slice($from, max(0, $to - $from));
            $guess = [] === $values ? null : PitchGuess::of(new MemorySource(new StereoBlock($values, $values), $this->rate));

            if (null === $guess) {
                return null;
            }
            $note = $guess->note - $tuning;
            $one = $pitches->isOneTone($pitches->spectrum(\array_slice($values, 0, $pitches->frames)), (int) round($note));

            return [$note, $one ? $guess->confidence : 0.0];
        }, array_keys($places));
    }

    /**
     * Whether it is a single line: most of its time one period explains what sounds.
     *
     * @param list<array{float, float}|null> $periods
     * @param non-empty-list<int>            $places
     */
    private function isSingle(array $periods, array $places): bool
    {
        $sure = $all = 0;
        foreach ($periods as $i => $period) {
            $frames = ($places[$i + 1] ?? \count($this->mono)) - $places[$i];
            if (null !== $period) {
                $all += $frames;
                $sure += $period[1] >= self::ONE_PERIOD ? $frames : 0;
            }
        }

        return $sure >= self::MOSTLY * $all;
    }

    /**
     * @param array{float, float}|null $period
     *
     * @return array<int, float> strength by pitch
     */
    private function between(Pitches $long, Pitches $short, int $from, int $to, int $voices, ?array $period): array
    {
        if (1 === $voices && null !== $period && $period[1] >= self::ONE_PERIOD) {
            return [(int) round($period[0]) => 1.0];
        }
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

    /** How many times stronger a note is behind a place than before. */
    private function rises(Pitches $pitches, int $pitch, int $at): float
    {
        $before = $pitches->powers($pitches->spectrum($this->slice($at - $pitches->frames, $pitches->frames)), $pitch);
        $after = $pitches->powers($pitches->spectrum($this->slice($at + (int) (0.01 * $this->rate), $pitches->frames)), $pitch);
        // Of a tone an octave above it has only the even ones: every other one counts for itself.
        [$oddBefore, $oddAfter] = array_map(static fn (array $powers): float => array_sum(array_filter($powers, static fn (int $i): bool => 0 === $i % 2, \ARRAY_FILTER_USE_KEY)), [$before, $after]);

        return max(array_sum($after) / max(1e-12, array_sum($before)), $oddAfter / max(1e-12, $oddBefore));
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
            $power = array_sum($pitches->powers($pitches->spectrum($this->slice($at, $pitches->frames)), $pitch));
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
