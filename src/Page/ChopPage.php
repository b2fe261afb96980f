<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\Sample;
use Pestle\Core\Audio\WavMarks;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\Counted;
use Pestle\Core\Sample\Description;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Tuning;

/** A sample as Chop shows it: with this beat's edits, its slices and its hits. */
final readonly class ChopPage
{
    public Edits $edits;
    /** Frames of the sample with its edits. */
    public int $frames;

    public function __construct(public Sample $sample, public Beat $beat)
    {
        $this->edits = $beat->edits[$sample->hash] ?? new Edits();
        $this->frames = $this->edits->length($sample->frames);
    }

    public function slices(): Slices
    {
        return $this->beat->slices[$this->sample->hash] ?? new Slices([]);
    }

    /** @return list<int> where its file's cue points lie in the sound with its edits, as many as can be markers */
    public function cues(WavMarks $marks): array
    {
        $frames = array_map(fn (int $frame): int => $this->edits->fromSource($frame, $this->sample->frames), $marks->cues);
        $frames = array_values(array_unique(array_filter($frames, fn (int $frame): bool => $frame >= 0 && $frame < $this->frames)));
        sort($frames);

        return \array_slice($frames, 0, Slices::MAX);
    }

    /** @return list<int|null> of each slice the end it has of its own */
    public function ends(): array
    {
        $slices = $this->slices();

        return array_map(static fn (int $i): ?int => $slices->of($i)->end, array_keys($slices->markers));
    }

    /** @return array<int, list<array<string, mixed>>> by slice, the edits that make it sound as its pad would */
    public function heardAs(): array
    {
        $out = [];
        foreach ($this->slices()->regions($this->frames) as $i => [$start, $end]) {
            $said = $this->slices()->of($i);
            $edits = [
                ...($said->reversed ? [new Edit(EditKind::Reverse, null, null)] : []),
                ...(0.0 !== $said->gainDb ? [new Edit(EditKind::Gain, null, null, ['db' => $said->gainDb])] : []),
            ];
            $out[$i] = [] === $edits ? [] : (new Edits([new Edit(EditKind::Keep, $start, $end), ...$edits]))->toArray();
        }

        return $out;
    }

    /** The edits that are heard, for addresses; empty when there are none. */
    public function query(): string
    {
        return $this->edits->query();
    }

    /** @return array<int, int> frame of each beat of a sample with edits, in order; bars begin where the number divides by the beats in one */
    public static function linesOf(Sample $sample, Edits $edits): array
    {
        $lines = [];
        $first = null;
        foreach ($sample->lines() as $beat => $frame) {
            $at = $edits->fromSource($frame, $sample->frames);
            // What was cut away would lie on the edge of the cut.
            if (abs($edits->toSource($at, $sample->frames) - $frame) < 10) {
                $first ??= $beat;
                $lines[] = $at;
            }
        }
        sort($lines);
        $first ??= 0;

        return [] === $lines ? [] : array_combine(range($first, $first + \count($lines) - 1), $lines);
    }

    /** @return array<int, int> */
    public function lines(): array
    {
        return self::linesOf($this->sample, $this->edits);
    }

    /**
     * The lines for the wave: of the sound as it is now, or of the recording itself with what holds them.
     *
     * @return array{frames: list<int>, first: int, bar: int, held: array<int, bool>} bar: beats in one; held: by beat, whether the tempo glides there
     */
    public function shownLines(bool $asRecorded): array
    {
        $lines = $asRecorded ? $this->sample->lines() : $this->lines();
        $held = [];
        foreach ($asRecorded ? $this->sample->grid()->marks ?? [] : [] as $mark) {
            $held[$mark->beat] = $mark->gradual;
        }

        return ['frames' => array_values($lines), 'first' => array_key_first($lines) ?? 0, 'bar' => $this->sample->beatsABar(), 'held' => $held];
    }

    /** Tempo as it sounds now, after stretching and speeding. */
    public function bpm(): ?float
    {
        $bpm = $this->sample->bpm();
        foreach ($this->edits->list as $edit) {
            if (null !== $bpm && $edit->on && null === $edit->from && null === $edit->to) {
                $bpm = match ($edit->kind) {
                    EditKind::InTime => (float) $edit->settings['bpm'],
                    EditKind::Stretch, EditKind::Speed => $bpm * 1e6 / $edit->length(1_000_000),
                    default => $bpm,
                };
            }
        }

        return $bpm;
    }

    /** As the beat counts it, whatever notes its own beats are. */
    public function counted(): Counted
    {
        $bpm = $this->bpm();
        $each = $this->sample->is()->quartersABeat($this->beat->meter);

        return new Counted(null === $bpm ? null : $bpm * $each, $this->frames, $this->sample->rate, $this->bars(), $each * $this->sample->beatsABar(), $each);
    }

    public function bars(): ?int
    {
        $bpm = true === $this->sample->grid()?->isEven() ? $this->bpm() : null;

        return Description::wholeBars($this->seconds(), $bpm, $this->sample->beatsABar());
    }

    /** How many of the beat's bars it is, where that is a whole number. */
    public function barsOfTheBeat(): ?int
    {
        $bars = ($this->bars() ?? 0) * $this->counted()->aBar / $this->beat->meter->quarters();

        return $bars >= 1.0 && abs($bars - round($bars)) < 1e-6 ? (int) round($bars) : null;
    }

    public function seconds(): float
    {
        return $this->frames / $this->sample->rate;
    }

    /**
     * For each marker the role of the hit there.
     *
     * @return list<string>
     */
    public function roles(): array
    {
        $near = (int) ($this->sample->rate * 0.03);
        $hits = !$this->sample->isMadeOfHits() && 'one-shot' !== $this->sample->kind() ? [] : array_map(fn (array $hit): array => [$this->edits->fromSource($hit[0], $this->sample->frames), Description::roleOf($hit[1])->value], $this->sample->hits());
        $roles = [];
        $slices = $this->slices();
        foreach ($slices->markers as $marker) {
            $role = $this->sample->isLoop() || [] === $hits ? 'tonal' : $this->sample->role()->value;
            foreach ($hits as [$frame, $kind]) {
                if (abs($frame - $marker) <= $near) {
                    $role = $kind;
                    break;
                }
            }
            $roles[] = ($slices->settings[$marker] ?? null)->role->value ?? $role;
        }

        return $roles;
    }

    /**
     * How many slices there are of each kind, how many of them are on pads, and the pad with the clearest one.
     *
     * @return list<array{role: Role, count: int, pads: int, best: Pad|null}>
     */
    public function kinds(): array
    {
        $roles = $this->roles();
        $kinds = [];
        foreach (array_count_values($roles) as $name => $count) {
            $role = Role::from($name);
            $pads = array_filter($this->beat->kit->pads, fn (Pad $p): bool => $p->main()->sample === $this->sample->hash && $p->role === $role);
            $best = null;
            $most = -1.0;
            foreach ($pads as $pad) {
                foreach ($this->sample->hits() as [$frame, , $sure, $level]) {
                    $place = $this->edits->fromSource($frame, $this->sample->frames);
                    if ($place >= $pad->main()->start - 500 && $place < $pad->main()->end && $sure * $level > $most) {
                        [$best, $most] = [$pad, $sure * $level];
                    }
                }
            }
            $kinds[] = ['role' => $role, 'count' => $count, 'pads' => \count($pads), 'best' => $best];
        }

        return $kinds;
    }

    /** @return list<int> pitch classes that are heard in it as it is now */
    public function heardNotes(): array
    {
        $pitch = $this->sample->pitch();
        $notes = 'one-shot' !== $this->sample->kind() ? $this->sample->notes() : (null === $pitch ? [] : [(int) round($pitch)]);
        if ($this->sample->isMadeOfHits() && 'one-shot' !== $this->sample->kind()) {
            return [];
        }

        return array_map(fn (int $note): int => ($note + (int) round($this->shift()) + 120) % 12, $notes);
    }

    /** How far the key it sounds in now is off 440 Hz. */
    public function tuning(): Tuning
    {
        return Tuning::cents($this->sample->tuning()->cents + 100.0 * $this->shift());
    }

    /** Key as it sounds now. */
    public function key(): ?Key
    {
        $name = $this->sample->key();

        return null === $name ? null : Key::of(Key::named($name)->tonic + (int) round($this->shift()) + 120, Key::named($name)->minor);
    }

    /**
     * @param list<Edit> $add
     *
     * @return array<string, mixed> the change that adds edits
     */
    public function change(array $add): array
    {
        return $this->set([...$this->edits->list, ...$add]);
    }

    /** @return array<string, mixed> */
    public function without(int $index): array
    {
        return $this->set(array_values(array_diff_key($this->edits->list, [$index => 1])));
    }

    /** @return array<string, mixed> */
    public function switched(int $index): array
    {
        $list = $this->edits->list;
        $list[$index] = $list[$index]->with(!$list[$index]->on);

        return $this->set($list);
    }

    /** @return array<string, mixed> one place earlier */
    public function earlier(int $index): array
    {
        $list = $this->edits->list;
        [$list[$index - 1], $list[$index]] = [$list[$index], $list[$index - 1]];

        return $this->set($list);
    }

    /**
     * @param array<int, Edit> $list
     *
     * @return array<string, mixed>
     */
    private function set(array $list): array
    {
        return ['type' => 'set-edits', 'sample' => $this->sample->hash, 'frames' => $this->sample->frames, 'edits' => (new Edits(array_values($list)))->toArray()];
    }

    /** Semitones by which it is moved. */
    public function shift(): float
    {
        $semitones = 0.0;
        foreach ($this->edits->list as $edit) {
            if ($edit->on && null === $edit->from && null === $edit->to) {
                $semitones += match ($edit->kind) {
                    EditKind::Pitch => (float) $edit->settings['cents'] / 100.0,
                    EditKind::Speed => 12.0 * log((float) $edit->settings['percent'] / 100.0, 2),
                    default => 0.0,
                };
            }
        }

        return $semitones;
    }
}
