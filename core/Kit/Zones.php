<?php

namespace Pestle\Core\Kit;

/** Recorded notes shared out over the keys and the strengths of an instrument. */
final class Zones
{
    /**
     * Each note reaches half way to the next one; several recordings of one note answer by strength, the quietest to
     * the softest strikes.
     *
     * @param non-empty-list<array{Zone, float}> $recorded with their peaks in dB
     *
     * @return non-empty-list<Zone> from low to high
     */
    public static function spread(array $recorded): array
    {
        $byNote = [];
        foreach ($recorded as [$zone, $peakDb]) {
            $byNote[self::note($zone)][] = [$zone, $peakDb];
        }
        ksort($byNote);
        $notes = array_keys($byNote);
        $zones = [];
        foreach ($notes as $i => $note) {
            $same = $byNote[$note];
            usort($same, static fn (array $a, array $b): int => $a[1] <=> $b[1]);
            $low = 0 === $i ? 0 : intdiv($notes[$i - 1] + $note, 2) + 1;
            $high = isset($notes[$i + 1]) ? intdiv($note + $notes[$i + 1], 2) : Zone::HIGHEST;
            $count = \count($same);
            foreach ($same as $k => [$zone]) {
                $sound = $zone->sound->with(['low' => 1 + intdiv(127 * $k, $count), 'high' => intdiv(127 * ($k + 1), $count)]);
                $zones[] = $zone->with(['lowKey' => $low, 'highKey' => $high, 'sound' => $sound]);
            }
        }

        return $zones;
    }

    /** MIDI number of the note a recording is nearest to. */
    public static function note(Zone $zone): int
    {
        return max(0, min(Zone::HIGHEST, (int) round($zone->rootCents / 100)));
    }
}
