<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Theory\TempoMap;

/** What scripts need to know of what a page plays: the song, what goes round, and how time goes in both. */
final readonly class Playing
{
    /** The section that goes round, or where it lies under sounds on the line of time, its coming with them. */
    public string $loops;

    public function __construct(private BeatPage $page, private Beat $beat)
    {
        $this->loops = 'arrange' === $page->workspace && 'song' === $page->chosen('view') && [] !== $beat->clips ? $this->coming() : $page->section->id;
    }

    private function coming(): string
    {
        $at = 0;
        foreach ($this->page->song() as ['entry' => $entry, 'ticks' => $ticks, 'repeats' => $repeats]) {
            if ($entry === $this->page->entry && $ticks > 0) {
                return $at.'-'.($at + $ticks);
            }
            $at += $ticks * $repeats;
        }

        return $this->page->section->id;
    }

    /** @return list<array<string, mixed>> */
    public function song(): array
    {
        $segments = SongPlaces::firstSegments($this->beat);
        $rows = [];
        foreach ($this->page->song() as ['section' => $section, 'entry' => $entry, 'ticks' => $ticks]) {
            // What takes no time begins with what comes next.
            $rows[] = ['id' => $entry->id, 'section' => $section->id, 'ticks' => $ticks, 'repeats' => $entry->repeats, 'name' => $section->name, 'bar' => ($section->meter ?? $this->beat->meter)->barTicks(), 'segment' => ($ticks > 0 ? array_shift($segments) : $segments[0] ?? null) ?? 0];
        }

        return $rows;
    }

    /** @return list<array{entry: string, part: string, name: string}> parts on keys that a box outside could play where the page is in the song */
    public function outside(): array
    {
        $entry = $this->page->entry;
        if (null === $entry) {
            return [];
        }
        $section = $this->beat->section($entry->section);
        $rows = [];
        foreach ($this->beat->parts as $part) {
            $its = $this->beat->patterns[$section->patterns[$part->id] ?? ''] ?? null;
            if (!$part->isKit() && null !== $its && [] !== $its->notes && !\in_array($part->id, [...$section->muted, ...$entry->muted, ...$entry->fixed], true)) {
                $rows[] = ['entry' => $entry->id, 'part' => $part->id, 'name' => \sprintf('%s in %s', $part->name, $section->name)];
            }
        }

        return $rows;
    }

    /** @return array{song: list<array{float, float}>, loop: list<array{float, float}>} places between which ticks and seconds go evenly; none where it is one tempo */
    public function time(): array
    {
        if (!Timeline::moves($this->beat)) {
            return ['song' => [], 'loop' => []];
        }
        $ticks = array_sum(array_map(static fn (array $e): int => $e['ticks'] * $e['repeats'], $this->page->song()));
        $rounded = static fn (TempoMap $time, float $until): array => array_map(static fn (array $place): array => [round($place[0], 3), round($place[1], 7)], $time->places($until));

        // Sounds may lie behind the last section.
        return ['song' => $rounded(Timeline::song($this->beat), $ticks + 1e6), 'loop' => $rounded(Timeline::of($this->beat, $this->loops), max(1.0, Passage::of($this->beat, $this->loops, true)->ticks))];
    }
}
