<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;

/**
 * The notes of a melodic phrase or a chord loop. Between two places at which something begins, or the strongest pitch
 * changes, the spectrum is looked at once; a network that was fitted to instruments says of each likely note whether it
 * begins there, goes on, or is absent.
 */
final class Transcription
{
    /** Longest recording that is listened to, in seconds. */
    public const MOST_SECONDS = 60.0;
    /** What the network says of a note. */
    public const ABSENT = 0;
    public const BEGINS = 1;
    public const GOES_ON = 2;
    private const HOP_SECONDS = 0.0116;
    private const SHORT_SECONDS = 0.0929;
    private const LONG_SECONDS = 0.1858;
    /** After so long a stroke is over and its note to be heard. */
    private const STROKE_SECONDS = 0.025;
    private const LOOKED_AT_SECONDS = 0.35;
    private const SHORTEST_SECONDS = 0.06;
    /** What is softer against the loudest place is silence. */
    private const SILENCE_DB = -42.0;
    /** What is softer all the way holds no notes. */
    private const SILENT = 1e-5;
    /** How sure a period has to be to stand for all that sounds. */
    private const ONE_PERIOD = 0.8;
    /** A note begins where that is likelier than not, and goes on as long as this is so likely. */
    private const SURE = 0.6;
    private const STILL = 0.35;
    /** So many frames in a row the strongest pitch is another one, where it changes without a stroke. */
    private const STEADY = 5;

    /** @var list<float> */
    private array $mono = [];
    private readonly float $loudest;
    private readonly Pitches $long;
    private readonly Pitches $short;
    /** @var non-empty-list<int> */
    private readonly array $places;
    /** @var list<array{float, float}|null> */
    private readonly array $periods;
    private readonly NoteCues $cues;

    private function __construct(private readonly AudioSource $source, private readonly int $rate)
    {
        $block = $source->read(0, min($source->frames(), (int) (self::MOST_SECONDS * $this->rate)));
        foreach ($block->left as $i => $left) {
            $this->mono[] = 0.5 * ($left + $block->right[$i]);
        }
        $this->loudest = $this->loudest();
        $silent = $this->loudest < self::SILENT;
        $tuning = $silent ? 0.0 : $this->tuning();
        $this->long = new Pitches($this->rate, (int) (self::LONG_SECONDS * $this->rate), $tuning);
        $this->short = new Pitches($this->rate, (int) (self::SHORT_SECONDS * $this->rate), $tuning);
        $this->places = $silent ? [0] : $this->places();
        $this->periods = $silent ? [null] : $this->periods($tuning);
        $this->cues = new NoteCues($this->short, $this->singleShare());
    }

    /**
     * @param int|null $voices most notes at once; 1 for a single line, null to find out
     *
     * @return list<HeardNote> in order of their start, then pitch
     */
    public static function of(AudioSource $source, ?int $voices = null): array
    {
        $self = new self($source, $source->sampleRate());

        return $self->loudest < self::SILENT ? [] : $self->notes($voices);
    }

    /**
     * What there is to go by, for fitting.
     *
     * @return list<array{float, array<int, list<float>>}> seconds, and for each likely note its numbers
     */
    public static function cues(AudioSource $source): array
    {
        $self = new self($source, $source->sampleRate());

        return array_map(static fn (int $i): array => [$self->places[$i] / $self->rate, $self->cuesAt($i)], array_keys($self->places));
    }

    /** @return list<HeardNote> */
    private function notes(?int $voices): array
    {
        $network = Fitted::network('notes');
        $open = $notes = [];
        foreach ($this->places as $i => $from) {
            $likely = array_map(static fn (array $cues): array => Fitted::probabilities($network->outputs($cues) ?: [1.0]), $this->cuesAt($i));
            $begun = array_map(static fn (array $l): float => $l[self::BEGINS], array_filter($likely, static fn (array $l): bool => $l[self::BEGINS] > self::SURE));
            arsort($begun);
            $begun = null === $voices ? $begun : \array_slice($begun, 0, $voices, true);
            foreach ($open as $pitch => $note) {
                if (isset($begun[$pitch]) || ($likely[$pitch][self::GOES_ON] ?? 0.0) < self::STILL || (1 === $voices && [] !== $begun)) {
                    $notes[] = $this->ended((int) $pitch, $note, $from);
                    unset($open[$pitch]);
                }
            }
            $level = $this->level($from, min($this->places[$i + 1] ?? \count($this->mono), $from + (int) (0.12 * $this->rate)));
            foreach ($begun as $pitch => $sure) {
                $open[$pitch] = [$from, $level, $sure];
            }
        }
        foreach ($open as $pitch => $note) {
            $notes[] = $this->ended((int) $pitch, $note, \count($this->mono));
        }
        $loud = [] === $notes ? 1.0 : max(array_column($notes, 3));
        $heard = [];
        foreach ($notes as [$pitch, $start, $end, $level, $sure]) {
            if ($end - $start >= self::SHORTEST_SECONDS * $this->rate) {
                $heard[] = new HeardNote($start / $this->rate, $end / $this->rate, $pitch, max(1, min(127, (int) round(24.0 + 100.0 * ($level / $loud) ** 0.6))), round($sure, 3));
            }
        }
        usort($heard, static fn (HeardNote $a, HeardNote $b): int => [$a->start, $a->pitch] <=> [$b->start, $b->pitch]);

        return $heard;
    }

    /** @return array<int, list<float>> for each likely note its numbers; none where it is silent */
    private function cuesAt(int $i): array
    {
        $from = $this->places[$i];
        $to = $this->places[$i + 1] ?? \count($this->mono);
        $level = $this->level($from, min($to, $from + (int) (0.12 * $this->rate)));
        $db = 20.0 * log10(max(1e-9, $level / max(1e-9, $this->loudest)));
        if ($db < self::SILENCE_DB) {
            return [];
        }
        $before = $this->level($from - (int) (0.05 * $this->rate), $from);
        $begin = $from + (int) (self::STROKE_SECONDS * $this->rate);
        $end = min($to, $from + (int) (self::LOOKED_AT_SECONDS * $this->rate));
        $pitches = $end - $begin >= 0.75 * $this->long->frames ? $this->long : $this->short;
        $sum = null;
        for ($at = $begin; null === $sum || $at + $pitches->frames <= $end; $at += intdiv($pitches->frames, 2)) {
            $spectrum = $pitches->spectrum($this->slice($at, min($pitches->frames, max(1, $to - $at))));
            $sum = null === $sum ? $spectrum : array_map(static fn (float $a, float $b): float => $a + $b, $sum, $spectrum);
        }

        return $this->cues->at(
            $pitches,
            $sum,
            $this->short->spectrum($this->slice($from - $this->short->frames, $this->short->frames)),
            $this->short->spectrum($this->slice($from + (int) (0.01 * $this->rate), $this->short->frames)),
            $this->periods[$i],
            [$db / 20.0, log(($level + 1e-6) / ($before + 0.01 * $this->loudest)), log(($to - $from) / $this->rate), $pitches === $this->long ? 1.0 : 0.0, 0 === $i ? 1.0 : 0.0],
        );
    }

    /**
     * Frames at which the notes may change: where something is struck, and where the strongest pitch becomes another one.
     *
     * @return non-empty-list<int>
     */
    private function places(): array
    {
        $pitches = $this->short;
        $loudest = $this->loudest;
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
    private function tuning(): float
    {
        $pitches = new Pitches($this->rate, (int) (self::LONG_SECONDS * $this->rate));
        $x = $y = 0.0;
        for ($at = 0, $step = (int) max(0.1 * $this->rate, \count($this->mono) / 60); $at + $pitches->frames < \count($this->mono); $at += $step) {
            if ($this->level($at, $at + $pitches->frames) < 0.1 * $this->loudest) {
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
     * @return list<array{float, float}|null> semitones less the tuning, and how sure
     */
    private function periods(float $tuning): array
    {
        [$places, $pitches] = [$this->places, $this->long];

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

    /** For how much of the time one period explains what sounds. */
    private function singleShare(): float
    {
        $sure = $all = 0;
        foreach ($this->periods as $i => $period) {
            $frames = ($this->places[$i + 1] ?? \count($this->mono)) - $this->places[$i];
            if (null !== $period) {
                $all += $frames;
                $sure += $period[1] >= self::ONE_PERIOD ? $frames : 0;
            }
        }

        return $sure / max(1, $all);
    }

    /**
     * @param array{int, float, float} $note where it began, its level and how sure it is
     *
     * @return array{int, int, int, float, float} pitch, start, end, level, how sure; it ends early where it dies away before
     */
    private function ended(int $pitch, array $note, int $end): array
    {
        [$start, $level, $sure] = $note;
        $hop = intdiv($this->short->frames, 2);
        $most = 0.0;
        for ($at = $start; $at < $end; $at += $hop) {
            $power = array_sum($this->short->powers($this->short->spectrum($this->slice($at, $this->short->frames)), $pitch));
            $most = max($most, $power);
            if ($power < 1e-3 * $most) {
                return [$pitch, $start, min($end, $at + $hop), $level, $sure];
            }
        }

        return [$pitch, $start, $end, $level, $sure];
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
        $from = max(0, $from);
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
