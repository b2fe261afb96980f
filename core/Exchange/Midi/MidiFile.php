<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Ticks;

/**
 * A Standard MIDI File of type 0 or 1: its notes by track and channel, tempi and meters.
 * Source: MIDI Manufacturers Association, "Standard MIDI Files 1.0" (RP-001).
 */
final readonly class MidiFile
{
    public const PERCUSSION = 9;
    private const MOST_BYTES = 20_000_000;
    private const MOST_NOTES = 200_000;

    /**
     * @param list<array{name: string, channel: int, notes: list<MidiNote>}> $tracks  one for each track and channel with notes; these in order of time
     * @param list<array{int, float}>                                        $tempi   tick and quarter notes a minute
     * @param list<array{int, int, int}>                                     $meters  tick, beats and unit
     * @param int                                                            $ticks   at which its last event ends
     * @param list<array{int, string}>                                       $markers tick and name
     * @param list<string>                                                   $lost    what it holds that has no place here
     */
    private function __construct(public string $name, public array $tracks, public array $tempi, public array $meters, public int $ticks, public array $markers, public ?Key $key, public array $lost)
    {
    }

    /**
     * @param string $name as it is told to the maker
     *
     * @throws UnreadableMidi
     */
    public static function read(string $bytes, string $name): self
    {
        if (\strlen($bytes) > self::MOST_BYTES) {
            throw new UnreadableMidi(\sprintf('%s is larger than 20 MB, which no MIDI file of a song is.', $name));
        }
        $bytes = self::unwrapped($bytes);
        if (\strlen($bytes) < 14 || 'MThd' !== substr($bytes, 0, 4)) {
            throw new UnreadableMidi(\sprintf('%s is no Standard MIDI File. Export it again as MIDI, or choose another file.', $name));
        }
        /** @var array{size: int, type: int, tracks: int, division: int} $head */
        $head = unpack('Nsize/ntype/ntracks/ndivision', $bytes, 4);
        if ($head['type'] > 1) {
            throw new UnreadableMidi(\sprintf('%s is of type %d, which holds separate songs. Export it as type 0 or 1.', $name, $head['type']));
        }
        $scale = self::scale($head['division'], $name);
        $lost = 0 !== ($head['division'] & 0x8000) ? ['it counts in frames of film: its notes lie as at 120 BPM' => 1] : [];
        $key = null;
        $tracks = $tempi = $meters = $markers = [];
        $last = $notes = 0;
        for ($at = 8 + $head['size']; $at + 8 <= \strlen($bytes); $at += 8 + $size) {
            /** @var array{id: string, size: int} $chunk */
            $chunk = unpack('a4id/Nsize', $bytes, $at);
            $size = $chunk['size'];
            if ('MTrk' !== $chunk['id']) {
                continue;
            }
            if ($at + 8 + $size > \strlen($bytes)) {
                throw new UnreadableMidi(\sprintf('%s is cut short: a track goes on beyond its end. Export it again.', $name));
            }
            $track = TrackReader::read(substr($bytes, $at + 8, $size), $scale, $name, self::MOST_NOTES - $notes);
            array_push($tempi, ...$track->tempi);
            array_push($meters, ...$track->meters);
            array_push($markers, ...$track->markers);
            $key ??= $track->key;
            foreach ($track->lost as $what => $often) {
                $lost[$what] = $often + ($lost[$what] ?? 0);
            }
            $last = max($last, $track->end);
            $notes += \count($track->notes);
            $byChannel = [];
            foreach ($track->notes as $note) {
                $byChannel[$note->channel][] = $note;
            }
            ksort($byChannel);
            foreach ($byChannel as $channel => $own) {
                usort($own, static fn (MidiNote $a, MidiNote $b): int => [$a->tick, $a->pitch] <=> [$b->tick, $b->pitch]);
                $tracks[] = ['name' => '' !== $track->name ? $track->name : (self::PERCUSSION === $channel ? 'Drums' : 'Track '.(\count($tracks) + 1)), 'channel' => $channel, 'notes' => $own];
            }
        }
        usort($tempi, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        usort($meters, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        if ([] === $tracks) {
            throw new UnreadableMidi(\sprintf('%s holds no notes.', $name));
        }

        usort($markers, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        unset($lost['']);

        return new self($name, $tracks, $tempi, $meters, $last, $markers, $key, array_map(static fn (string $what, int $often): string => 1 === $often ? $what : \sprintf('%s (%d times)', $what, $often), array_keys($lost), array_values($lost)));
    }

    /** Ticks of 960 to the quarter for each of the file's. */
    private static function scale(int $division, string $name): float
    {
        if (0 === ($division & 0x8000)) {
            return 0 === $division ? throw new UnreadableMidi(\sprintf('%s has no ticks to a quarter note. Export it again.', $name)) : Ticks::PER_QUARTER / $division;
        }
        // Frames a second, below nothing, and ticks a frame: at 120 BPM a second is two quarters.
        $frames = 256 - ($division >> 8);
        $ticks = ($division & 0xFF) * (29 === $frames ? 30.0 / 1.001 : $frames);

        return 0.0 === (float) $ticks ? throw new UnreadableMidi(\sprintf('%s has no ticks to a frame. Export it again.', $name)) : 2.0 * Ticks::PER_QUARTER / $ticks;
    }

    /** What lies in a RIFF file of MIDI data (RP-29), or the bytes as they are. */
    private static function unwrapped(string $bytes): string
    {
        if (!str_starts_with($bytes, 'RIFF') || 'RMID' !== substr($bytes, 8, 4)) {
            return $bytes;
        }
        for ($at = 12; $at + 8 <= \strlen($bytes); $at += 8 + $size['size'] + $size['size'] % 2) {
            /** @var array{size: int} $size */
            $size = unpack('Vsize', $bytes, $at + 4);
            if ('data' === substr($bytes, $at, 4)) {
                return substr($bytes, $at + 8, $size['size']);
            }
        }

        return $bytes;
    }

    public static function tooManyNotes(string $name): UnreadableMidi
    {
        return new UnreadableMidi(\sprintf('%s holds more than %s notes. Export its parts one by one.', $name, number_format(self::MOST_NOTES)));
    }

    /**
     * What is played in it, over whole bars of four quarters, to take its groove from.
     *
     * @return array{int, list<array{float, float}>} ticks, and where each note begins and how loud it is, 0 to 1
     */
    public function played(int $mostBars): array
    {
        $played = [];
        foreach ($this->tracks as $track) {
            foreach ($track['notes'] as $note) {
                $played[] = [(float) $note->tick, $note->velocity / 127.0];
            }
        }
        $bar = 4 * Ticks::PER_QUARTER;
        $bars = max(1, min($mostBars, (int) ceil((1 + max([0, ...array_column($played, 0)])) / $bar)));

        return [$bars * $bar, array_values(array_filter($played, static fn (array $note): bool => $note[0] < $bars * $bar))];
    }
}
