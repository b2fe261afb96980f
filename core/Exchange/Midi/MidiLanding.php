<?php

namespace Pestle\Core\Exchange\Midi;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Tempo;

/**
 * How a MIDI file comes into a beat: drums onto its kit by roles, tracks called like a pad onto that pad, other tracks onto
 * its instruments in their order, all in sections of their own: one, or one from each marker to the next, none of them
 * longer or fuller than a pattern may be.
 */
final class MidiLanding
{
    private const MOST_SECTIONS = 24;

    /** @var list<string> */
    private array $told;
    private Meter $meter;
    /** Ticks that stand before the file's first, so that a pickup ends with a bar. */
    private int $before = 0;

    private function __construct(private readonly MidiFile $file, private readonly Beat $beat)
    {
        $this->told = $file->lost;
        $this->meter = $this->meter();
    }

    /**
     * @return array{array<string, mixed>|null, list<string>} the change that brings it in, or null where nothing finds a place; and what
     *                                                        could not be carried
     */
    public static function of(MidiFile $file, Beat $beat, bool $tempo): array
    {
        $landing = new self($file, $beat);
        $rows = $landing->rows();
        if ([] === $rows) {
            return [null, $landing->told];
        }
        $change = $landing->change($rows, $tempo);

        return [[] === $change['patterns'] ? null : $change, $landing->told];
    }

    /**
     * @param non-empty-list<array{string, string, list<Hit>, list<Note>}> $rows
     *
     * @return array{type: string, patterns: list<array<string, mixed>>, ...}
     */
    private function change(array $rows, bool $tempo): array
    {
        $title = Fields::fitted((string) preg_replace('/\.\w{1,5}$/', '', basename($this->file->name)), 'MIDI file', 70);
        $patterns = $sections = [];
        foreach ($this->stretches($rows) as [$name, $from, $to]) {
            $own = $this->within($rows, $from, $to, \count($patterns));
            if ([] !== $own) {
                $id = 's'.self::free($this->beat->sections, 's', \count($sections));
                $sections[] = ['id' => $id, 'name' => '' === $name ? $title : $name, 'patterns' => array_column($own, 'id', 'part')];
                array_push($patterns, ...$own);
            }
        }
        if (\count($this->file->tempi) > 1) {
            $this->told[] = \sprintf('%d changes of tempo: the first holds', \count($this->file->tempi) - 1);
        }
        // Before the first that is set, a file plays at 120.
        $bpm = 0 === ($this->file->tempi[0][0] ?? 0) ? $this->file->tempi[0][1] ?? 120.0 : 120.0;

        return [
            'type' => 'land-patterns', 'patterns' => $patterns, 'section' => $sections[0]['id'] ?? $this->beat->nextSectionId(), 'sectionName' => $sections[0]['name'] ?? $title,
            ...\count($sections) > 1 ? ['sections' => $sections] : [], 'from' => Fields::fitted(basename($this->file->name), 'MIDI file', 120), 'sectionMeter' => $this->meter->name(),
            ...$tempo ? ['bpm' => round(max(Tempo::SLOWEST, min(Tempo::MAX, $bpm)), 2), 'meter' => $this->meter->name()] : [],
            ...$tempo && null !== $this->file->key ? ['key' => $this->file->key->name()] : [],
        ];
    }

    /** @param array<string, mixed> $taken */
    private static function free(array $taken, string $letter, int $further): int
    {
        for ($n = 1, $left = $further; isset($taken[$letter.$n]) || $left-- > 0; ++$n) {
        }

        return $n;
    }

    /** The meter that holds for longest; a pickup before it is no bar of its own. */
    private function meter(): Meter
    {
        $meters = $this->file->meters;
        if ([] === $meters) {
            return $this->beat->meter;
        }
        if ($meters[0][0] > 0) {
            array_unshift($meters, [0, 4, 4]);
        }
        $longest = [];
        foreach ($meters as $i => [$tick, $beats, $unit]) {
            $name = $beats.'/'.$unit;
            $longest[$name] = ($longest[$name] ?? 0) + ($meters[$i + 1][0] ?? max($this->file->ticks, $tick + 1)) - $tick;
        }
        arsort($longest);
        [$beats, $unit] = array_map(intval(...), explode('/', (string) array_key_first($longest)));
        try {
            $meter = Meter::of($beats, $unit);
        } catch (\InvalidArgumentException) {
            $this->told[] = \sprintf('the meter %d/%d', $beats, $unit);

            return $this->beat->meter;
        }
        $pickup = $meters[1][0] ?? 0;
        $isPickup = $pickup > 0 && $pickup < $meter->barTicks() && [$meters[1][1], $meters[1][2]] === [$beats, $unit];
        $this->before = $isPickup ? $meter->barTicks() - $pickup : 0;
        if (\count($meters) > ($isPickup ? 2 : 1)) {
            $this->told[] = \sprintf('%d changes of meter: %s holds', \count($meters) - ($isPickup ? 2 : 1), $meter->name());
        }

        return $meter;
    }

    /** @return list<array{string, string, list<Hit>, list<Note>}> name, part, and what it plays in order of time, for every part that plays */
    private function rows(): array
    {
        $kit = $this->beat->firstKit();
        $pads = array_values(array_filter($this->beat->kit->pads, fn (Pad $pad): bool => $this->beat->kit->partOf($pad->id) === $kit->id));
        $byName = array_column($pads, 'id', 'name');
        $instruments = array_values(array_filter($this->beat->parts, static fn (Part $p): bool => !$p->isKit()));
        $drums = $hits = $rows = [];
        foreach ($this->file->tracks as $track) {
            $pad = $byName[$track['name']] ?? null;
            if (MidiFile::PERCUSSION === $track['channel']) {
                array_push($drums, ...$track['notes']);
            } elseif (null !== $pad && 1 === \count(array_unique(array_column($track['notes'], 'pitch')))) {
                array_push($hits, ...array_map(fn (MidiNote $n): Hit => $this->hit($n, $pad), $track['notes']));
            } elseif (null === $part = array_shift($instruments)) {
                $this->told[] = \sprintf('%s: there is no instrument left for it; add one in Kit', $track['name']);
            } else {
                $rows[] = [$track['name'], $part->id, [], array_map(fn (MidiNote $n): Note => new Note($n->tick + $this->before, $n->pitch, $n->velocity, min(Pattern::MAX_TICKS, $n->length)), $track['notes'])];
            }
        }
        $hits = [...$hits, ...[] === $drums ? [] : $this->drums($drums, $pads)];
        usort($hits, static fn (Hit $a, Hit $b): int => $a->tick <=> $b->tick);

        return [] === $hits ? $rows : [['Drums', $kit->id, $hits, []], ...$rows];
    }

    private function hit(MidiNote $note, string $pad): Hit
    {
        return new Hit($note->tick + $this->before, $pad, $note->velocity, min(Pattern::MAX_TICKS, $note->length));
    }

    /**
     * @param non-empty-list<MidiNote> $drums
     * @param list<Pad>                $pads
     *
     * @return list<Hit>
     */
    private function drums(array $drums, array $pads): array
    {
        $keys = array_values(array_unique(array_column($drums, 'pitch')));
        // A key that goes out as one of its pads comes back to it; others find one by their role.
        $onto = array_intersect_key(array_flip(DrumKeys::of(array_values(array_filter($pads, DrumKeys::isDrum(...))))), array_flip($keys));
        $onto += DrumKeys::onto(array_values(array_diff($keys, array_keys($onto))), $pads);
        $hits = $lost = [];
        foreach ($drums as $note) {
            if (isset($onto[$note->pitch])) {
                $hits[] = $this->hit($note, $onto[$note->pitch]);
            } else {
                $lost[$note->pitch] = DrumKeys::role($note->pitch)->label();
            }
        }
        if ([] !== $lost) {
            $this->told[] = \sprintf('%s: the kit has no sound like it', implode(', ', array_unique($lost)));
        }
        if (\count(array_unique($onto)) < \count($onto)) {
            $this->told[] = \sprintf('%d drum keys share %d pads', \count($onto), \count(array_unique($onto)));
        }

        return $hits;
    }

    /**
     * From marker to marker, each as long and full as one pattern may be; a bar at the end counts when something begins in it.
     *
     * @param non-empty-list<array{string, string, list<Hit>, list<Note>}> $rows
     *
     * @return list<array{string, int, int}> name, first tick and the one after the last
     */
    private function stretches(array $rows): array
    {
        $bar = $this->meter->barTicks();
        $last = max(array_map(static fn (array $row): int => max([0, ...array_column($row[2], 'tick'), ...array_column($row[3], 'tick')]), $rows));
        $end = $bar * max(1, intdiv($last, $bar) + 1, intdiv($this->file->ticks + $this->before, $bar));
        $cuts = [0 => ''];
        foreach ($this->file->markers as [$tick, $name]) {
            $at = (int) round(($tick + $this->before) / $bar) * $bar;
            if ($at < $end) {
                $cuts[$at] = '' === ($cuts[$at] ?? '') ? $name : $cuts[$at];
            }
        }
        ksort($cuts);
        $starts = array_keys($cuts);
        $stretches = [];
        foreach ($starts as $i => $from) {
            $to = $starts[$i + 1] ?? $end;
            for ($at = $from; $at < $to; $at = $until) {
                $until = min($to, $at + $this->bars($rows, $at) * $bar);
                $stretches[] = [$cuts[$from].('' !== $cuts[$from] && $at > $from ? ', on' : ''), $at, $until];
            }
        }
        if (\count($stretches) > self::MOST_SECTIONS) {
            $this->told[] = \sprintf('what lies behind bar %d', intdiv($stretches[self::MOST_SECTIONS][1], $bar));
        }

        return \array_slice($stretches, 0, self::MOST_SECTIONS);
    }

    /**
     * Bars from a tick on that a pattern of each part can hold.
     *
     * @param list<array{string, string, list<Hit>, list<Note>}> $rows
     */
    private function bars(array $rows, int $from): int
    {
        $bar = $this->meter->barTicks();
        $most = Pattern::MAX_BARS;
        foreach ($rows as [, , $hits, $notes]) {
            $in = [];
            foreach ([...$hits, ...$notes] as $event) {
                if ($event->tick >= $from) {
                    $in[intdiv($event->tick - $from, $bar)] = 1 + ($in[intdiv($event->tick - $from, $bar)] ?? 0);
                }
            }
            for ($held = $bars = 0; $bars < $most && ($held += $in[$bars] ?? 0) <= Pattern::MAX_HITS; ++$bars) {
            }
            $most = max(1, $bars);
        }

        return $most;
    }

    /**
     * @param list<array{string, string, list<Hit>, list<Note>}> $rows
     *
     * @return list<array{id: string, part: string, ...}> patterns of a stretch
     */
    private function within(array $rows, int $from, int $to, int $before): array
    {
        $patterns = [];
        foreach ($rows as [$name, $part, $hits, $notes]) {
            $in = static fn (Hit|Note $e): bool => $e->tick >= $from && $e->tick < $to;
            $own = \array_slice(array_values(array_filter([] === $hits ? $notes : $hits, $in)), 0, Pattern::MAX_HITS);
            if ([] !== $own) {
                $events = array_map(static fn (Hit|Note $e): array => $e instanceof Hit ? (new Hit($e->tick - $from, $e->pad, $e->velocity, min($to - $from, $e->length)))->toArray() : (new Note($e->tick - $from, $e->pitch, $e->velocity, min($to - $from, $e->length)))->toArray(), $own);
                $patterns[] = ['id' => 'p'.self::free($this->beat->patterns, 'p', $before + \count($patterns)), 'name' => $name, 'part' => $part, 'ticks' => $to - $from, [] === $hits ? 'notes' : 'hits' => $events];
            }
        }

        return $patterns;
    }
}
