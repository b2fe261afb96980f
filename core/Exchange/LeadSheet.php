<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\ChordName;

/** A song on paper: its sections in order with their bars, the chords of the instruments' notes, and who plays. */
final class LeadSheet
{
    private const BARS_A_LINE = 4;

    /** @return string plain text, UTF-8, lines ended by line feeds */
    public static function of(Beat $beat): string
    {
        $song = Passage::song($beat);
        $blocks = [];
        $tick = $bar = 0;
        foreach ($song as $entry) {
            $section = $beat->section($entry->section);
            $meter = $section->meter ?? $beat->meter;
            $passage = Passage::of($beat, $section->id, false, $entry->muted);
            $bars = max(1, (int) ceil($passage->ticks / $meter->barTicks()));
            $heading = \sprintf('%d  %s, %s%s%s', $bar + 1, $section->name, 1 === $bars ? '1 bar' : $bars.' bars', $entry->repeats > 1 ? \sprintf(', %d times', $entry->repeats) : '', null === $section->meter ? '' : ', '.$meter->name());
            $blocks[] = implode("\n", [self::justified($heading, self::clock(SongPlaces::frameOf($beat, $tick))), ...self::chords($beat, $passage, $meter->barTicks(), $bars), ...self::players($beat, $passage, $entry)]);
            $tick += $entry->repeats * $passage->ticks;
            $bar += $entry->repeats * $bars;
        }
        $about = array_filter([$beat->tempo->bpm.' BPM', $beat->key?->name() ?? '', $beat->meter->name(), [] === $song ? '' : self::clock(SongPlaces::frameOf($beat, $tick))]);

        return implode("\n\n", [$beat->name."\n".implode(', ', $about), ...[] === $blocks ? ['The song has no sections yet.'] : $blocks])."\n";
    }

    private static function justified(string $left, string $right): string
    {
        return $left.str_repeat(' ', max(2, 56 - mb_strlen($left))).$right;
    }

    private static function clock(int $frames): string
    {
        $seconds = intdiv($frames, Beat::SAMPLE_RATE);

        return \sprintf('%d:%02d', intdiv($seconds, 60), $seconds % 60);
    }

    /** @return list<string> lines of so many bars; none where no instrument plays */
    private static function chords(Beat $beat, Passage $passage, int $barTicks, int $bars): array
    {
        $weights = array_fill(0, $bars, []);
        $lowest = array_fill(0, $bars, null);
        foreach ($passage->patterns as [$pattern, $at]) {
            foreach ($pattern->notes as $note) {
                // A note counts in each bar for as long as it sounds there, and as hard as it is struck.
                for ($from = $at + $note->tick, $end = min($passage->ticks, $from + $note->length); $from < $end; $from = $until) {
                    $bar = intdiv($from, $barTicks);
                    $until = min($end, ($bar + 1) * $barTicks);
                    $weights[$bar][$note->pitch % 12] = ($weights[$bar][$note->pitch % 12] ?? 0.0) + ($until - $from) * $note->velocity;
                    $lowest[$bar] = min($lowest[$bar] ?? $note->pitch, $note->pitch);
                }
            }
        }
        $flats = null !== $beat->key && $beat->key->fifths() < 0;
        $names = array_map(static fn (array $weight, ?int $pitch): string => ChordName::of($weight, null === $pitch ? null : $pitch % 12, $flats) ?: '–', $weights, $lowest);

        return array_unique($names) === ['–'] ? [] : array_map(static fn (array $line): string => '   | '.implode(' | ', $line).' |', array_chunk($names, self::BARS_A_LINE));
    }

    /** @return list<string> */
    private static function players(Beat $beat, Passage $passage, Entry $entry): array
    {
        $playing = array_flip(array_map(static fn (array $one): string => $one[0]->part, $passage->patterns));
        $names = array_map(static fn (Part $part): string => $part->name, array_values(array_intersect_key($beat->parts, $playing)));
        $silent = array_map(static fn (string $id): string => $beat->part($id)->name, array_values(array_filter($entry->muted, static fn (string $id): bool => isset($beat->parts[$id]))));

        return ['   '.([] === $names ? 'nobody plays' : implode(', ', $names)).([] === $silent ? '' : '; silent: '.implode(', ', $silent))];
    }
}
