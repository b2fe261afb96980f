<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Render\Performance;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\TempoMap;
use Pestle\Core\Theory\Ticks;

/**
 * A beat as a Standard MIDI File of type 1: tempo, meters, key and the names of its sections in the first track, then one for
 * each part; drums of kits on channel 10 by roles, other pads as tracks of their own, each on one key. Chance and feel are
 * played out, as they are heard, or left out, as they are written.
 */
final class MidiWriter
{
    /** The key of a pad that is no drum. */
    private const OWN_KEY = 60;
    /** Programs of General MIDI, from 0: an electric piano, and what comes near to a pad of a role. */
    private const PROGRAM = 4;
    private const TEMPO_TICKS = 120;
    private const PROGRAMS = ['bass' => 38, 'voice' => 53, 'effect' => 96];

    /**
     * @param string|null $what    id of a section or pattern; null for the song
     * @param bool        $written as it is written, without feel and chance
     * @param string|null $only    id of the one part that is wanted; null for all
     *
     * @return string the file
     */
    public static function of(Beat $beat, ?string $what = null, bool $written = false, ?string $only = null): string
    {
        $beat = $written ? self::asWritten($beat) : $beat;
        $performance = new Performance($beat);
        $song = null === $what ? Passage::song($beat) : [Entry::once($what)];
        $events = $meters = $markers = [];
        $at = 0;
        foreach ($song as $entry) {
            $id = $entry->section;
            $passage = Passage::of($beat, $id, false, $entry->muted);
            $markers[] = [$at, ($beat->sections[$id] ?? null)->name ?? $beat->pattern($id)->name];
            $meters[$at] = ($beat->sections[$id] ?? null)->meter ?? $beat->meter;
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $at += $passage->ticks) {
                foreach ($performance->of($passage, $pass) as [$event, $part, $tick]) {
                    $events[$part][] = [max(0, $at + (int) round($tick)), $event];
                }
            }
        }
        $tracks = [self::head($beat, null === $what ? Timeline::song($beat) : Timeline::of($beat, $what), $meters, $markers, $at)];
        $channel = 0;
        foreach (null === $only ? $beat->parts : [$beat->part($only)] as $part) {
            foreach (self::voices($beat, $part, $events[$part->id] ?? []) as [$name, $program, $strikes]) {
                $tracks[] = self::track($name, $program, $strikes, null === $program ? MidiFile::PERCUSSION : $channel, $at);
                // Of sixteen, one is percussion's; what goes beyond shares channels, in tracks of its own.
                $channel = null === $program ? $channel : ($channel + 1) % 16;
                $channel += (int) (MidiFile::PERCUSSION === $channel);
            }
        }

        return 'MThd'.pack('Nnnn', 6, 1, \count($tracks), Ticks::PER_QUARTER).implode('', array_map(static fn (string $t): string => 'MTrk'.pack('N', \strlen($t)).$t, $tracks));
    }

    private static function asWritten(Beat $beat): Beat
    {
        $plain = static fn (Pattern $p): Pattern => $p->with([
            'feel' => new Feel(),
            'lanes' => array_map(static fn (Lane $lane): Lane => new Lane($lane->ticks, null), $p->lanes),
            'hits' => array_map(static fn (Hit $hit): Hit => new Hit($hit->tick, $hit->pad, $hit->velocity, $hit->length, 100, $hit->fine, $hit->fineLength, $hit->grade, $hit->strikes), $p->hits),
            'notes' => array_map(static fn (Note $note): Note => new Note($note->tick, $note->pitch, $note->velocity, $note->length, 100, $note->fine, $note->fineLength), $p->notes),
        ]);

        return $beat->with(['patterns' => array_map($plain, $beat->patterns)]);
    }

    /**
     * What a part plays as tracks.
     *
     * @param list<array{int, Hit|Note}> $events
     *
     * @return list<array{string, int|null, list<array{int, int, Hit|Note}>}> name, program or null for percussion, and tick and key of each
     */
    private static function voices(Beat $beat, Part $part, array $events): array
    {
        if (!$part->isKit()) {
            $notes = array_map(static fn (array $e): array => [$e[0], $e[1] instanceof Note ? $e[1]->pitch : 60, $e[1]], $events);

            return [] === $notes ? [] : [[$part->name, self::PROGRAM, $notes]];
        }
        $pads = array_filter($beat->kit->pads, static fn (Pad $pad): bool => $beat->kit->partOf($pad->id) === $part->id);
        $keys = DrumKeys::of(array_values(array_filter($pads, DrumKeys::isDrum(...))));
        $drums = $own = [];
        foreach ($events as [$tick, $event]) {
            $id = $event instanceof Hit ? $event->pad : '';
            if (isset($keys[$id])) {
                $drums[] = [$tick, $keys[$id], $event];
            } elseif (isset($pads[$id])) {
                $own[$id][] = [$tick, self::OWN_KEY, $event];
            }
        }
        $voices = [] === $drums ? [] : [[$part->name, null, $drums]];
        foreach ($own as $id => $strikes) {
            $voices[] = [$pads[$id]->name, self::PROGRAMS[$pads[$id]->role->value] ?? self::PROGRAM, $strikes];
        }

        return $voices;
    }

    /**
     * @param array<int, Meter>        $meters  by tick
     * @param list<array{int, string}> $markers
     */
    private static function head(Beat $beat, TempoMap $time, array $meters, array $markers, int $end): string
    {
        $messages = [[0, self::meta(0x03, $beat->name)], ...array_map(static fn (array $t): array => [$t[0], self::meta(0x51, substr(pack('N', (int) round(1e6 * $t[1])), 1))], self::tempi($time, $end))];
        if (null !== $beat->key) {
            $messages[] = [0, self::meta(0x59, pack('cC', $beat->key->fifths(), (int) $beat->key->minor))];
        }
        foreach ($markers as [$tick, $name]) {
            $messages[] = [$tick, self::meta(0x06, $name)];
        }
        $before = null;
        foreach ($meters as $tick => $meter) {
            if ($meter != $before) {
                $messages[] = [$tick, self::meta(0x58, pack('C4', $meter->beats, (int) round(log($meter->unit, 2)), 24, 8))];
            }
            $before = $meter;
        }

        return self::written($messages, $end);
    }

    /**
     * Where the tempo goes gradually, in steps that are as long together.
     *
     * @return list<array{int, float}> tick, and seconds a quarter from there
     */
    private static function tempi(TempoMap $time, int $end): array
    {
        $ticks = [0];
        foreach ($time->isSteady() ? [] : $time->places($end) as [$tick]) {
            $from = $ticks[\count($ticks) - 1];
            $steps = $time->stands($from, $tick) ? 1 : (int) max(1.0, ceil(($tick - $from) / self::TEMPO_TICKS));
            foreach (range(1, $steps) as $k) {
                $ticks[] = (int) round($from + ($tick - $from) * $k / $steps);
            }
        }
        $tempi = [];
        $ticks = array_values(array_unique($ticks));
        foreach ($ticks as $i => $tick) {
            $next = $ticks[$i + 1] ?? $tick + Ticks::PER_QUARTER;
            $tempi[] = [$tick, ($time->seconds($next) - $time->seconds($tick)) * Ticks::PER_QUARTER / ($next - $tick)];
        }

        return $tempi;
    }

    /** @param list<array{int, int, Hit|Note}> $strikes tick and key of each */
    private static function track(string $name, ?int $program, array $strikes, int $channel, int $end): string
    {
        $messages = [[0, self::meta(0x03, $name)], ...null === $program ? [] : [[0, pack('C2', 0xC0 | $channel, $program)]]];
        usort($strikes, static fn (array $a, array $b): int => [$a[1], $a[0]] <=> [$b[1], $b[0]]);
        foreach ($strikes as $i => [$tick, $key, $event]) {
            $length = max(1, (int) round($event->lengthTicks()));
            [$next, $other] = $strikes[$i + 1] ?? [0, -1];
            // The same key struck again while it sounds: an end that came later would end that one.
            $length = $other === $key && $next > $tick ? min($length, $next - $tick) : $length;
            $messages[] = [$tick, pack('C3', 0x90 | $channel, $key, $event->velocity)];
            $messages[] = [$tick + $length, pack('C3', 0x80 | $channel, $key, 64)];
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
