<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Render\Performance;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;

/**
 * A beat as a Standard MIDI File of type 1: tempo and meters in the first track, then one for each part; kits on
 * channel 10 by roles. Chance and feel are played out, as they are heard.
 */
final class MidiWriter
{
    /**
     * @param string|null $what id of a section or pattern; null for the song
     *
     * @return string the file
     */
    public static function of(Beat $beat, ?string $what = null): string
    {
        $performance = new Performance($beat);
        $song = null === $what ? Passage::song($beat) : [[$what, 1]];
        $events = $meters = [];
        $at = 0;
        foreach ($song as [$id, $repeats]) {
            $passage = Passage::of($beat, $id, false);
            $meters[$at] = ($beat->sections[$id] ?? null)->meter ?? $beat->meter;
            for ($pass = 0; $pass < $repeats; ++$pass, $at += $passage->ticks) {
                foreach ($performance->of($passage, $pass) as [$event, $part, $tick]) {
                    $events[$part][] = [max(0, $at + (int) round($tick)), $event];
                }
            }
        }
        $tracks = [self::head($beat, $meters, $at)];
        $channel = 0;
        foreach ($beat->parts as $part) {
            if (isset($events[$part->id])) {
                $channel += (int) (!$part->isKit() && MidiFile::PERCUSSION === $channel);
                $tracks[] = self::track($beat, $part, $events[$part->id], $part->isKit() ? MidiFile::PERCUSSION : $channel % 16, $at);
                $channel += (int) !$part->isKit();
            }
        }

        return 'MThd'.pack('Nnnn', 6, 1, \count($tracks), Ticks::PER_QUARTER).implode('', array_map(static fn (string $t): string => 'MTrk'.pack('N', \strlen($t)).$t, $tracks));
    }

    /** @param array<int, Meter> $meters by tick */
    private static function head(Beat $beat, array $meters, int $end): string
    {
        $messages = [[0, self::meta(0x03, $beat->name)], [0, self::meta(0x51, substr(pack('N', (int) round(60_000_000 / $beat->tempo->bpm)), 1))]];
        $before = null;
        foreach ($meters as $tick => $meter) {
            if ($meter != $before) {
                $messages[] = [$tick, self::meta(0x58, pack('C4', $meter->beats, (int) round(log($meter->unit, 2)), 24, 8))];
            }
            $before = $meter;
        }

        return self::written($messages, $end);
    }

    /** @param list<array{int, Hit|\Pestle\Core\Pattern\Note}> $events */
    private static function track(Beat $beat, Part $part, array $events, int $channel, int $end): string
    {
        $keys = DrumKeys::of(array_values(array_filter($beat->kit->pads, static fn ($pad): bool => $beat->kit->partOf($pad->id) === $part->id)));
        // Of one tick: what ends comes before what begins.
        $messages = [[0, self::meta(0x03, $part->name)]];
        foreach ($events as [$tick, $event]) {
            $pitch = $event instanceof Hit ? $keys[$event->pad] ?? null : $event->pitch;
            if (null !== $pitch) {
                $messages[] = [$tick, pack('C3', 0x90 | $channel, $pitch, $event->velocity)];
                $messages[] = [$tick + max(1, (int) round($event->lengthTicks())), pack('C3', 0x80 | $channel, $pitch, 64)];
            }
        }

        return self::written($messages, $end);
    }

    /** @param list<array{int, string}> $messages */
    private static function written(array $messages, int $end): string
    {
        usort($messages, static fn (array $a, array $b): int => [$a[0], 9 === \ord($a[1][0]) >> 4] <=> [$b[0], 9 === \ord($b[1][0]) >> 4]);
        $out = '';
        $at = 0;
        foreach ($messages as [$tick, $message]) {
            $out .= self::number($tick - $at).$message;
            $at = $tick;
        }

        return $out.self::number(max(0, $end - $at)).self::meta(0x2F, '');
    }

    private static function meta(int $kind, string $data): string
    {
        return "\xFF".\chr($kind).self::number(\strlen($data)).$data;
    }

    private static function number(int $value): string
    {
        $bytes = \chr($value & 0x7F);
        while ($value >>= 7) {
            $bytes = \chr(0x80 | ($value & 0x7F)).$bytes;
        }

        return $bytes;
    }
}
