<?php

namespace Pestle\App\Page;

use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\LibrarySearch;
use Pestle\App\Sound\PadSound;
use Pestle\App\Storage\History;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Strikes;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Song\Titles;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;
use Symfony\Component\HttpFoundation\Request;

/** What every workspace of a beat shows and which of its things are chosen; the choice is in the address. */
final readonly class BeatPage
{
    public const WORKSPACES = ['gather' => 'Gather', 'chop' => 'Chop', 'kit' => 'Kit', 'pattern' => 'Pattern', 'sound' => 'Sound', 'arrange' => 'Arrange', 'mix' => 'Mix', 'deliver' => 'Deliver'];
    /** Keys of the sixteen places, by position on the keyboard: left hand, right hand, upper row first. */
    public const KEYS = ['Q', 'W', 'E', 'R', 'U', 'I', 'O', 'P', 'A', 'S', 'D', 'F', 'J', 'K', 'L', ';'];
    private const CHOICES = ['section', 'entry', 'part', 'pattern', 'bank', 'pad', 'channel', 'insert', 'sample', 'tool', 'octave', 'scale', 'root', 'lanes', 'fold', 'open', 'group', 'layer', 'pads', 'side', 'ladder', 'lane', 'feel', 'over', 'beside', 'kits', 'kitsMost', 'show', 'search', 'kind', 'role', 'key', 'from', 'to', 'mark', 'sort', 'view', 'moves', 'clip', 'marker', 'unfold', 'mover', 'stacked', 'bright', 'long'];

    public Bank $bank;
    public Section $section;
    /** The coming of the section in the song that is chosen, or its first; null where it lies beside the song. */
    public ?Entry $entry;
    public Part $part;
    public DockNotes $notes;
    /** What the part plays in the section; null for nothing. */
    public ?Pattern $pattern;
    /** @var array<string, string> */
    private array $chosen;

    /** @param (\Closure(string): (array<string, list<list<int|string>>>|null))|null $before rows of a pattern as the page that asks has it */
    public function __construct(public BeatRecord $record, public Beat $beat, public History $history, public string $workspace, Request $request, private ?\Closure $before = null)
    {
        $chosen = [];
        foreach (self::CHOICES as $name) {
            $value = $request->query->all()[$name] ?? null;
            if (\is_string($value) && '' !== $value) {
                $chosen[$name] = $value;
            }
        }
        $this->chosen = $chosen;
        $pattern = $beat->patterns[$this->chosen('pattern')] ?? null;
        $this->section = $this->sectionOf($pattern);
        $its = array_filter($beat->song, fn (Entry $e): bool => $e->section === $this->section->id);
        $this->entry = $its[$this->chosen('entry')] ?? array_values($its)[0] ?? null;
        $this->part = $beat->parts[$this->chosen('part')] ?? $beat->parts[$pattern->part ?? ''] ?? array_values($beat->parts)[0];
        $this->pattern = $beat->patterns[$this->section->patterns[$this->part->id] ?? ''] ?? null;
        $this->notes = new DockNotes($beat->key, null === $this->part->keys ? null : $this->part->keys->main()->rootCents ?? 100 * SoundPage::around($beat, $this->part)[1], $this->chosen('scale'), $this->chosen('root'), $this->chosen('octave'));
        $bank = $beat->kit->bank($this->chosen('bank'));
        $own = $beat->kit->banksOf($this->part->id);
        $this->bank = null !== $bank && ([] === $own || $bank->part === $this->part->id) ? $bank : $own[0] ?? $beat->kit->banks[0];
    }

    /** The section that is chosen, or one that plays the chosen pattern, or the first of the song. */
    private function sectionOf(?Pattern $pattern): Section
    {
        $sections = $this->beat->sections;
        $chosen = $sections[$this->chosen('section')] ?? null;
        $playing = null === $pattern ? [] : array_filter($sections, static fn (Section $s): bool => \in_array($pattern->id, $s->patterns, true));
        if (null !== $chosen && ([] === $playing || isset($playing[$chosen->id]))) {
            return $chosen;
        }

        // Without a choice, the first that the chosen part, or the first one, plays in.
        $part = $this->beat->parts[$this->chosen('part')] ?? array_values($this->beat->parts)[0];
        $order = array_values(array_map(static fn (Entry $e): string => $e->section, $this->beat->song));
        $with = array_filter($order, static fn (string $id): bool => isset($sections[$id]->patterns[$part->id]));
        $filled = array_filter($with, fn (string $id): bool => false === ($this->beat->patterns[$sections[$id]->patterns[$part->id]] ?? null)?->isEmpty());

        return array_values($playing)[0] ?? $sections[array_values([...$filled, ...$with])[0] ?? ''] ?? $sections[$order[0] ?? ''] ?? array_values($sections)[0] ?? throw new \OutOfBoundsException('This beat has no section.');
    }

    public function chosen(string $name): string
    {
        return $this->chosen[$name] ?? '';
    }

    /**
     * The address of a workspace with what is chosen here, and with other choices.
     *
     * @param array<string, string> $choices
     */
    public function url(?string $workspace = null, array $choices = []): string
    {
        $query = http_build_query(array_filter([...$this->chosen, ...$choices], static fn (string $value): bool => '' !== $value));

        return \sprintf('/beats/%d/%s%s', $this->record->id, $workspace ?? $this->workspace, '' === $query ? '' : '?'.$query);
    }

    /** @return list<array{id: string, key: string, pad: Pad|null, left: bool}> the sixteen places of the bank that is open */
    public function places(): array
    {
        $places = [];
        foreach ($this->bank->padIds() as $i => $id) {
            $places[] = ['id' => $id, 'key' => self::KEYS[$i], 'pad' => $this->beat->kit->pad($id), 'left' => 0 === intdiv($i, 4) % 2];
        }

        return $places;
    }

    /** @return array<string, string> what can be graded, by path */
    public function ladders(): array
    {
        return Ladder::KINDS;
    }

    /** The sixteen grades of a pad's setting, in the place of the pads; null where there is no ladder. */
    public function ladder(): ?Ladder
    {
        $pad = $this->pad();

        return '' === $this->chosen('ladder') || null === $pad || !$this->part->isKit() ? null : Ladder::of($pad, $this->chosen('ladder'), $this->beat->key);
    }

    /** Whether lanes without hits are hidden. */
    public function onlyUsedLanes(): bool
    {
        return 'used' === $this->chosen('lanes') && [] !== ($this->pattern->hits ?? []);
    }

    /** @return list<Pad> pads of the open bank, and others that play in the pattern; or only the latter */
    public function lanes(): array
    {
        $playing = array_flip(array_column($this->pattern->hits ?? [], 'pad'));

        return array_values(array_filter(
            $this->beat->kit->pads,
            fn (Pad $pad): bool => isset($playing[$pad->id]) || (!$this->onlyUsedLanes() && \in_array($pad->id, $this->bank->padIds(), true)),
        ));
    }

    /** @return list<LaneRow> rows of the lanes: a pad each, or where they are folded one for all of a bank, a role or a recording */
    public function laneRows(): array
    {
        return LaneRow::of($this->lanes(), $this->beat->kit, $this->chosen('fold'), explode(',', $this->chosen('open')));
    }

    /** The address with a group of lanes opened or folded. */
    public function foldUrl(LaneRow $row): string
    {
        $open = array_filter(explode(',', $this->chosen('open')));

        return $this->url(null, ['open' => implode(',', \in_array($row->group, $open, true) ? array_diff($open, [$row->group]) : [...$open, $row->group])]);
    }

    /** @return array<string, int> places without a sound that the pattern strikes, and how often */
    public function silentHits(): array
    {
        return array_count_values(array_values(array_filter(array_column($this->pattern->hits ?? [], 'pad'), fn (string $id): bool => null === $this->beat->kit->pad($id))));
    }

    /**
     * Hits or notes of a pattern as the page that asks shows them; null when it shows others.
     *
     * @return list<list<int|string>>|null
     */
    public function before(Pattern $pattern, string $what): ?array
    {
        return null === $this->before ? null : (($this->before)($pattern->id)[$what] ?? null);
    }

    public function pad(): ?Pad
    {
        return $this->beat->kit->pad($this->chosen('pad')) ?? array_values(array_filter($this->places(), static fn (array $p): bool => null !== $p['pad']))[0]['pad'] ?? null;
    }

    /** @return array<string, mixed> what playing a pad takes */
    public function play(Pad $pad): array
    {
        return PadSound::play($this->record->id ?? 0, $this->beat, $pad);
    }

    /**
     * What the page's scripts need to know.
     *
     * @return array<string, mixed>
     */
    public function forScripts(): array
    {
        $playing = new Playing($this, $this->beat);

        return [
            'beat' => $this->record->id,
            'head' => $this->record->head,
            // The same wherever undo and redo lead back to the same state.
            'place' => $this->history->undoTo ?? 0,
            'section' => $this->section->id,
            'loops' => $playing->loops,
            // What its parts play: another pattern begins with a bar.
            'plays' => implode(' ', array_map(static fn (string $part, string $pattern): string => $part.'='.$pattern, array_keys($this->section->patterns), $this->section->patterns)),
            'part' => $this->part->id,
            'nextPart' => $this->beat->nextPartId(),
            'nextPattern' => $this->beat->nextPatternId(),
            'nextTrack' => $this->beat->nextTrackId(),
            'nextClip' => $this->beat->nextClipId(),
            'nextMarker' => $this->beat->nextMarkerId(),
            'pattern' => $this->pattern?->id,
            'patternTicks' => $this->pattern->ticks ?? 0,
            'bar' => $this->meter()->barTicks(),
            'click' => $this->meter()->beatTicks(),
            'keys' => $this->keys(),
            'bpm' => $this->beat->tempo->bpm,
            'swing' => $this->pattern?->feel->pairs()->percent ?? 50.0,
            'swingOn' => $this->pattern?->feel->swingOn->ticks() ?? Ticks::PER_STEP,
            'rules' => $this->beat->rules->value,
            'moving' => array_values(array_unique(array_column($this->beat->movements->only(static fn (Movement $m): bool => $m->on)->all, 'path'))),
            'workspace' => $this->workspace,
            'song' => $playing->song(),
            'outside' => $playing->outside(),
            'time' => $playing->time(),
        ];
    }

    /** @return array<string, mixed>|null where notes of the part are heard, and how they behave; null for a kit */
    private function keys(): ?array
    {
        return $this->part->isKit() ? null : [
            'sound' => \sprintf('/beats/%d/keys/%s', $this->record->id, $this->part->id),
            'key' => (new Strikes($this->beat))->printOfKeys($this->part),
            ...PadSound::notes($this->beat, $this->part),
        ];
    }

    /** The meter of the section. */
    public function meter(): Meter
    {
        return $this->section->meter ?? $this->beat->meter;
    }

    /** @return list<array{section: Section, entry: Entry, ticks: int, repeats: int}> the song, and how long each section is once through */
    public function song(): array
    {
        $song = [];
        foreach ($this->beat->song as $entry) {
            $section = $this->beat->section($entry->section);
            $song[] = ['section' => $section, 'entry' => $entry, 'ticks' => $section->lengthTicks($this->beat->patterns), 'repeats' => $entry->repeats];
        }

        return $song;
    }

    /** A name for a new section that no other has. */
    public function freshName(): string
    {
        return Titles::section(array_values(array_map(static fn (Section $s): string => $s->name, $this->beat->sections)), array_values(array_map(static fn (Pad $p): string => $p->name, $this->beat->kit->pads)));
    }

    public function copyName(Section $section): string
    {
        $taken = array_map(static fn (Section $s): string => $s->name, $this->beat->sections);
        $stem = mb_substr((string) preg_replace('/ \d+$/', '', $section->name), 0, 70);
        for ($n = 2; \in_array($stem.' '.$n, $taken, true); ++$n) {
        }

        return $stem.' '.$n;
    }

    /** The place in the song behind a section, or the end of the song. */
    public function placeAfter(Section $section): int
    {
        $at = array_keys(array_values(array_map(static fn (Entry $e): string => $e->section, $this->beat->song)), $section->id, true);

        return [] === $at ? \count($this->beat->song) : 1 + max($at);
    }

    public function indexOf(Part $part): int
    {
        return (int) array_search($part->id, array_keys($this->beat->parts), true);
    }

    /** @return list<string> meters to choose from */
    public function meters(): array
    {
        $names = Meter::COMMON;
        foreach (Meter::UNITS as $unit) {
            for ($beats = 1; $beats <= 16; ++$beats) {
                $names[] = Meter::of($beats, $unit)->name();
            }
        }

        return array_values(array_unique([...$names, $this->beat->meter->name(), $this->meter()->name()]));
    }

    /** Quarters a minute of a loop as this beat counts them, or as it will when it takes the loop's meter. */
    public function quarters(Sample $sample, bool $inItsMeter): float
    {
        return ($sample->bpm() ?? 0.0) * $sample->is()->quartersABeat($inItsMeter ? $sample->meter() : $this->beat->meter);
    }

    /** Pitch of a sample in cents, as it was heard or corrected; the middle C where it is not known. */
    public function rootOf(?Sample $sample): int
    {
        return (int) round(100 * ($sample?->pitch() ?? 60.0));
    }

    /** @return list<list<int>> tick, pitch and length of what other parts on keys play in the section, to be seen behind the notes */
    public function otherNotes(): array
    {
        $others = [];
        foreach (array_diff_key($this->section->patterns, [$this->part->id => true]) as $id) {
            $pattern = $this->beat->patterns[$id] ?? null;
            foreach ($pattern->notes ?? [] as $note) {
                for ($at = $note->tick; $at < ($this->pattern->ticks ?? 0) && null !== $pattern; $at += $pattern->ticks) {
                    $others[] = [$at, $note->pitch, $note->length];
                }
            }
        }

        return $others;
    }

    /** @return list<Section> those that are not in the song */
    public function beside(): array
    {
        return array_values(array_diff_key($this->beat->sections, array_flip(array_column($this->beat->song, 'section'))));
    }

    /** @return list<Section> all sections that play a pattern */
    public function playing(Pattern $pattern): array
    {
        return array_values(array_filter($this->beat->sections, static fn (Section $s): bool => \in_array($pattern->id, $s->patterns, true)));
    }

    /** @return list<Pattern> */
    public function patternsOf(Part $part): array
    {
        return array_values(array_filter($this->beat->patterns, static fn (Pattern $p): bool => $p->part === $part->id));
    }

    /** @return array<string, string> what is looked for in the library */
    public function library(): array
    {
        return array_map(static fn (string $value): string => mb_substr($value, 0, 80), array_intersect_key($this->chosen, array_flip([...LibrarySearch::FIELDS, 'sort'])));
    }

    /** @return list<string> */
    public function keyNames(): array
    {
        return Key::names();
    }

    /** @return array<string, Pattern> those that some section of the song plays */
    public function inSong(): array
    {
        $playing = [];
        foreach ($this->beat->song as $entry) {
            $playing += array_flip($this->beat->section($entry->section)->patterns);
        }

        return array_intersect_key($this->beat->patterns, $playing);
    }

    /** A pattern drawn small, once through. */
    public function drawn(Pattern $pattern): string
    {
        return PatternPrint::path($this->beat, $pattern);
    }

    /** Bars, with a fraction where it is not whole. */
    public function bars(int $ticks): string
    {
        $bars = $ticks / $this->beat->meter->barTicks();

        return rtrim(rtrim(number_format($bars, 2), '0'), '.').(1.0 === (float) $bars ? ' bar' : ' bars');
    }

    /** Bar, beat and step of a place of the song, in the meter of the beat. */
    public function place(int $tick): string
    {
        [$bar, $beat] = [$this->beat->meter->barTicks(), $this->beat->meter->beatTicks()];

        return \sprintf('%d.%d.%s', intdiv($tick, $bar) + 1, intdiv($tick % $bar, $beat) + 1, round($tick % $bar % $beat / Ticks::PER_STEP + 1, 2));
    }

    /** How long the song takes to a tick of it, in minutes and seconds. */
    public function time(float $ticks): string
    {
        $seconds = (int) round(Timeline::song($this->beat)->seconds($ticks));

        return \sprintf('%d:%02d', intdiv($seconds, 60), $seconds % 60);
    }
}
