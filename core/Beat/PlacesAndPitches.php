<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Bank;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/**
 * Hits as notes and notes as hits, where a kit comes under what an instrument played or the reverse. The first place of a kit
 * is C2, as for controllers, and each further one a semitone higher; what lies below C2 follows after the highest note. So no
 * two of them become one, and what went over comes back as it was.
 */
final class PlacesAndPitches
{
    private const FIRST = 36;
    private const PITCHES = 128;

    public static function pitch(int $place): ?int
    {
        return $place < self::PITCHES ? ($place + self::FIRST) % self::PITCHES : null;
    }

    public static function place(int $pitch): int
    {
        return ($pitch - self::FIRST + self::PITCHES) % self::PITCHES;
    }

    /** @return array<string, int> place by pad, in the order of a part's banks */
    public static function places(Beat $beat, string $part): array
    {
        return array_flip(array_merge([], ...array_map(static fn (Bank $bank): array => $bank->padIds(), $beat->kit->banksOf($part))));
    }

    /**
     * A pattern on notes: each strike of a hit is one. Hits on places that no note is left for stay, and are silent.
     *
     * @param array<string, int> $places by pad
     */
    public static function onNotes(Pattern $pattern, array $places): Pattern
    {
        $notes = $stay = [];
        foreach ($pattern->hits as $hit) {
            $pitch = isset($places[$hit->pad]) ? self::pitch($places[$hit->pad]) : null;
            if (null === $pitch) {
                $stay[] = $hit;
                continue;
            }
            foreach ($hit->struck() as $one) {
                $notes[] = new Note($one->tick, $pitch, $one->velocity, $one->length, $one->chance, $one->fine, $one->fineLength, $one->group, $one->thrown);
            }
        }

        return $pattern->with(['hits' => $stay, 'notes' => [...$pattern->notes, ...$notes]]);
    }

    /**
     * A pattern on pads.
     *
     * @param array<string, int> $places by pad, with one for every pitch that is played
     */
    public static function onPads(Pattern $pattern, array $places): Pattern
    {
        $pads = array_flip($places);
        $hits = array_map(static fn (Note $n): Hit => new Hit($n->tick, (string) $pads[self::place($n->pitch)], $n->velocity, $n->length, $n->chance, $n->fine, $n->fineLength, '', 1, $n->group, $n->thrown), $pattern->notes);

        return $pattern->with(['hits' => [...$pattern->hits, ...$hits], 'notes' => []]);
    }
}
