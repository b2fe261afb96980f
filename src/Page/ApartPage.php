<?php

namespace Pestle\App\Page;

use Pestle\App\Apart\ApartState;
use Pestle\App\Entity\Sample;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Theory\Ticks;

/** A recording taken apart as Chop shows it, and what follows at a press. */
final readonly class ApartPage
{
    /** A room that is short, and how much of it. */
    private const ROOM = ['seconds' => 0.8, 'mix' => 22.0];
    private const CONVERTER = ['bits' => 12, 'rate' => 26_000, 'filters' => 1];

    public function __construct(public ApartState $state, private Beat $beat)
    {
    }

    /** @return list<RecordingPart> */
    public function parts(): array
    {
        return RecordingPart::cases();
    }

    public function sample(RecordingPart $part): ?Sample
    {
        return $this->state->samples[$part->value] ?? null;
    }

    /** What the beat does to a part, for addresses; empty when nothing. */
    public function treated(RecordingPart $part): string
    {
        $sample = $this->sample($part);

        return null === $sample ? '' : ($this->beat->edits[$sample->hash] ?? new Edits())->query();
    }

    public function isConverted(RecordingPart $part): bool
    {
        return null !== $this->edit($part, EditKind::Converter);
    }

    /** @return array<string, mixed> the change that gives a part the colour of an old converter, or takes it off */
    public function converted(RecordingPart $part): array
    {
        return $this->switched($part, new Edit(EditKind::Converter, null, null, self::CONVERTER));
    }

    public function isInRoom(): bool
    {
        return null !== $this->edit(RecordingPart::Voice, EditKind::Room);
    }

    /** @return array<string, mixed> the change that puts the voice into a short room, or takes it out */
    public function inRoom(): array
    {
        $rate = $this->state->sample->rate;

        return $this->switched(RecordingPart::Voice, new Edit(EditKind::Room, null, null, [...self::ROOM, 'tail' => (int) (self::ROOM['seconds'] * $rate)]));
    }

    /** @return array<string, mixed>|null the change that cuts the drums at their hits; null where none were heard yet */
    public function sliced(): ?array
    {
        $drums = $this->sample(RecordingPart::Drums);
        if (null === $drums) {
            return null;
        }
        $chop = new ChopPage($drums, $this->beat);
        $hits = array_map(static fn (array $hit): int => $chop->edits->fromSource($hit[0], $drums->frames), $drums->hits());
        $markers = array_values(array_unique(array_filter($hits, static fn (int $at): bool => $at < $chop->frames)));
        sort($markers);

        return [] === $markers ? null : ['type' => 'set-slices', 'sample' => $drums->hash, 'markers' => \array_slice($markers, 0, Slices::MAX), 'how' => 'hits'];
    }

    /** @return array<string, mixed>|null the change that puts all four onto pads; null before they are made, or where there is no room */
    public function ontoPads(): ?array
    {
        $free = null;
        foreach ($this->beat->kit->banks as $bank) {
            foreach ($bank->padIds() as $id) {
                $free ??= null === $this->beat->kit->pad($id) ? $id : null;
            }
        }
        $sounds = array_map(static fn (Sample $s): array => ['sample' => $s->hash, 'name' => mb_substr($s->name, 0, 60), 'frames' => $s->frames, 'role' => $s->role()->value, 'peakDb' => max(-200.0, $s->peakDb)], array_values($this->state->samples));

        return null === $free || [] === $sounds ? null : ['type' => 'land-sounds', 'pad' => $free, 'how' => 'free', 'sounds' => $sounds];
    }

    /** @return array{change: array<string, mixed>, words: string}|null lays all four onto the line of time, in time and in key; null before they are made */
    public function ontoTheLine(): ?array
    {
        if ([] === $this->state->samples) {
            return null;
        }
        $whole = new ChopPage($this->state->sample, $this->beat->with(['edits' => []]));
        $lines = $whole->lines();
        $bpm = $this->beat->tempo->bpm;
        $time = \count($lines) < 2 ? null : Fit::follow($lines, $whole->counted(), $bpm, $whole->sample->frames);
        $key = null === $whole->key() || null === $this->beat->key ? null : Fit::key($whole->key(), $this->beat->key, tuning: $whole->tuning());
        $parts = [];
        foreach ($this->state->samples as $name => $sample) {
            // Drums have no key.
            $fits = array_filter([$time, 'drums' === $name ? null : $key]);
            // What was done to it already stays: its room, its colour.
            $own = array_filter(($this->beat->edits[$sample->hash] ?? new Edits())->list, static fn (Edit $edit): bool => !\in_array($edit->kind, [EditKind::InTime, EditKind::Pitch, EditKind::Stretch], true));
            $edits = array_merge(...[...array_map(static fn (Fit $fit): array => $fit->edits, array_values($fits)), array_values($own)]);
            $parts[] = ['name' => ucfirst($name), 'sample' => $sample->hash, 'rate' => $sample->rate, 'frames' => $sample->frames, 'edits' => (new Edits($edits))->toArray()];
        }
        $words = implode('; ', array_map(static fn (Fit $fit): string => $fit->words, array_filter([$time, $key])));

        return ['change' => ['type' => 'lay-parts', 'at' => $this->at($whole, $time), 'parts' => $parts], 'words' => '' === $words ? 'As it is: neither tempo nor key are known' : $words];
    }

    /** The tick at which its first bar begins on a bar of the song. */
    private function at(ChopPage $whole, ?Fit $time): int
    {
        $bar = $this->beat->meter->barTicks();
        $beats = array_keys($whole->lines());
        $first = array_values(array_filter($beats, static fn (int $beat): bool => 0 === $beat % $whole->sample->beatsABar()))[0] ?? null;
        if (null === $first || null === $time) {
            return 0;
        }
        $lead = (new Edits($time->edits))->fromSource($whole->lines()[$first], $whole->sample->frames) / $whole->sample->rate * $this->beat->tempo->bpm / 60.0 * Ticks::PER_QUARTER;

        // A lead-in that is as good as none begins with the song.
        return max(0, (int) round(ceil($lead / $bar - 0.01) * $bar - $lead));
    }

    private function edit(RecordingPart $part, EditKind $kind): ?Edit
    {
        $sample = $this->sample($part);
        $edits = null === $sample ? [] : ($this->beat->edits[$sample->hash] ?? new Edits())->list;

        return array_values(array_filter($edits, static fn (Edit $edit): bool => $edit->on && $edit->kind === $kind))[0] ?? null;
    }

    /** @return array<string, mixed> */
    private function switched(RecordingPart $part, Edit $edit): array
    {
        $sample = $this->sample($part);
        if (null === $sample) {
            return [];
        }
        $edits = ($this->beat->edits[$sample->hash] ?? new Edits())->list;
        $others = array_values(array_filter($edits, static fn (Edit $e): bool => $e->kind !== $edit->kind));

        return ['type' => 'set-edits', 'sample' => $sample->hash, 'frames' => $sample->frames, 'edits' => (new Edits(null === $this->edit($part, $edit->kind) ? [...$others, $edit] : $others))->toArray()];
    }
}
