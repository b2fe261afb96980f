<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Tempo;

/** How a MIDI file comes into a beat: drums onto its kit by roles, other tracks onto its instruments in their order, all in a section of its own. */
final class MidiLanding
{
    /**
     * @return array{array<string, mixed>|null, list<string>} the change that brings it in, or null where nothing finds a place; and what
     *                                                        could not be carried
     */
    public static function of(MidiFile $file, Beat $beat, bool $tempo): array
    {
        $told = $rows = [];
        $meter = self::meter($file, $beat, $told);
        $bar = $meter->barTicks();
        $ticks = max(1, (int) ceil(self::end($file) / $bar)) * $bar;
        if ($ticks > Pattern::MAX_BARS * $bar) {
            $ticks = Pattern::MAX_BARS * $bar;
            $told[] = \sprintf('what lies behind bar %d', Pattern::MAX_BARS);
        }
        $instruments = array_values(array_filter($beat->parts, static fn (Part $p): bool => !$p->isKit()));
        $drums = [];
        foreach ($file->tracks as $track) {
            if (MidiFile::PERCUSSION === $track['channel']) {
                array_push($drums, ...$track['notes']);
                continue;
            }
            $part = array_shift($instruments);
            if (null === $part) {
                $told[] = \sprintf('%s: there is no instrument left for it; add one in Kit', $track['name']);
                continue;
            }
            $notes = array_map(static fn (MidiNote $n): array => (new Note($n->tick, $n->pitch, $n->velocity, min($ticks, $n->length)))->toArray(), array_filter($track['notes'], static fn (MidiNote $n): bool => $n->tick < $ticks));
            $rows[] = ['id' => self::id($beat, $rows), 'name' => $track['name'], 'part' => $part->id, 'ticks' => $ticks, 'notes' => array_values($notes)];
        }
        if ([] !== $drums) {
            $row = self::drums($drums, $beat, $ticks, $told);
            $rows = null === $row ? $rows : [[...$row, 'id' => self::id($beat, $rows)], ...$rows];
        }
        if ([] === $rows) {
            return [null, $told];
        }
        if (\count($file->tempi) > 1) {
            $told[] = \sprintf('%d changes of tempo: the first holds', \count($file->tempi) - 1);
        }
        $bpm = $file->tempi[0][1] ?? 120.0;
        $title = mb_substr((string) preg_replace('/\.\w{1,5}$/', '', basename($file->name)), 0, 70) ?: 'MIDI file';

        return [[
            'type' => 'land-patterns', 'patterns' => $rows, 'section' => $beat->nextSectionId(), 'sectionName' => $title, 'from' => basename($file->name),
            ...$tempo ? ['bpm' => round(max(Tempo::SLOWEST, min(Tempo::MAX, $bpm)), 2), 'meter' => $meter->name()] : [],
        ], $told];
    }

    /** @param list<array<string, mixed>> $rows */
    private static function id(Beat $beat, array $rows): string
    {
        for ($n = 1; isset($beat->patterns['p'.$n]) || \in_array('p'.$n, array_column($rows, 'id'), true); ++$n) {
        }

        return 'p'.$n;
    }

    private static function end(MidiFile $file): int
    {
        return max(1, $file->ticks);
    }

    /** @param list<string> $told */
    private static function meter(MidiFile $file, Beat $beat, array &$told): Meter
    {
        if ([] === $file->meters) {
            return $beat->meter;
        }
        if (\count($file->meters) > 1) {
            $told[] = \sprintf('%d changes of meter: the first holds', \count($file->meters) - 1);
        }
        try {
            return Meter::of($file->meters[0][1], $file->meters[0][2]);
        } catch (\InvalidArgumentException) {
            $told[] = \sprintf('the meter %d/%d', $file->meters[0][1], $file->meters[0][2]);

            return $beat->meter;
        }
    }

    /**
     * @param non-empty-list<MidiNote> $drums
     * @param list<string>             $told
     *
     * @return array<string, mixed>|null
     */
    private static function drums(array $drums, Beat $beat, int $ticks, array &$told): ?array
    {
        $kit = $beat->firstKit();
        $pads = array_values(array_filter($beat->kit->pads, static fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $kit->id));
        $onto = DrumKeys::onto(array_values(array_unique(array_map(static fn (MidiNote $n): int => $n->pitch, $drums))), $pads);
        $hits = $lost = [];
        foreach ($drums as $note) {
            if (!isset($onto[$note->pitch])) {
                $lost[$note->pitch] = DrumKeys::role($note->pitch)->label();
            } elseif ($note->tick < $ticks) {
                $hits[] = (new Hit($note->tick, $onto[$note->pitch], $note->velocity, min($ticks, $note->length)))->toArray();
            }
        }
        if ([] !== $lost) {
            $told[] = \sprintf('%s: the kit has no sound like it', implode(', ', array_unique($lost)));
        }

        return [] === $hits ? null : ['name' => 'Drums', 'part' => $kit->id, 'ticks' => $ticks, 'hits' => $hits];
    }
}
