<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Ticks;

/** Lays recordings that belong together onto the line of time, one under another from the same place on, each on a track of its own and with its edits. */
final readonly class LayParts implements Change
{
    private const MOST = 16;
    /** Of a round of the section that is put in where the song is too short. */
    private const BARS = 4;

    /** @param list<array{string, string, int, int, Edits}> $parts name, hash, rate, frames of the sample, edits */
    private function __construct(private int $at, private array $parts)
    {
    }

    public static function from(Fields $fields): self
    {
        $parts = array_map(static fn (Fields $p): array => [$p->text('name'), $p->hash('sample'), $p->whole('rate', 1000, 768_000), $p->frame('frames', 1), EditFields::read($p, 'edits')], $fields->rows('parts', self::MOST));

        return [] === $parts ? throw InvalidChange::field('parts', 'must name at least one recording.') : new self(SongCodec::tick($fields, 'at'), $parts);
    }

    public function apply(Beat $beat): Beat
    {
        $end = 0.0;
        foreach ($this->parts as [$name, $sample, $rate, $frames, $edits]) {
            $beat = SetEdits::of($sample, $frames, $edits)->apply($beat);
            $track = $beat->nextTrackId();
            $beat = AddTrack::to($beat, $track, $name);
            $length = ($beat->edits[$sample] ?? new Edits())->length($frames);
            $beat = $beat->withClips(new Clip($beat->nextClipId(), $track, $name, $sample, $rate, $this->at, 0, $length));
            $end = max($end, $this->at + $length / $rate * $beat->tempo->bpm / 60.0 * Ticks::PER_QUARTER);
        }

        return self::longEnough($beat, $end);
    }

    /** Where the song ends before they do, or has not begun, it goes on with a section of its own. */
    private static function longEnough(Beat $beat, float $end): Beat
    {
        $lasts = array_sum(array_map(static fn (Entry $entry): int => $entry->repeats * $beat->section($entry->section)->lengthTicks($beat->patterns), $beat->song));
        $round = self::BARS * $beat->meter->barTicks();
        $missing = (int) ceil(($end - $lasts) / $round - 0.01);
        if ($missing < 1) {
            return $beat;
        }
        $section = new Section($beat->nextSectionId(), 'Parts', [], $round);
        $beat = $beat->withSection($section);
        for (; $missing > 0; $missing -= Entry::MAX_REPEATS) {
            $beat = $beat->withEntry(new Entry($beat->nextEntryId(), $section->id, min(Entry::MAX_REPEATS, $missing)));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return \count($this->parts).' parts laid onto the line';
    }

    public function touches(): array
    {
        return [...array_map(static fn (array $part): string => 'edits/'.$part[1], $this->parts), 'clip', 'track', 'kit', 'mixer/new', 'section/new', 'song'];
    }
}
