<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\SongBars;
use Pestle\Core\Mix\Node;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;

/** The song as a line of time: its bars, its sections, what the parts play, and all that moves. */
final readonly class SongPage
{
    /** So many curves are shown each by itself. */
    private const SHOWN = 12;

    /** @var list<array{section: Section, entry: Entry, from: int, ticks: int, repeats: int}> sections that take time, with the tick they come at */
    public array $entries;
    /** How long it is, with what lies behind its last section. */
    public int $ticks;
    /** How much of that lies there. */
    public int $behind;

    public function __construct(private BeatPage $page, private Beat $beat, public TracksPage $placed)
    {
        $entries = [];
        $at = 0;
        foreach ($page->song() as $entry) {
            if ($entry['ticks'] > 0) {
                $entries[] = ['section' => $entry['section'], 'entry' => $entry['entry'], 'from' => $at, 'ticks' => $entry['ticks'], 'repeats' => $entry['repeats']];
                $at += $entry['ticks'] * $entry['repeats'];
            }
        }
        $this->entries = $entries;
        $this->ticks = 0 === $at ? 0 : max($at, $placed->end());
        $this->behind = $this->ticks - $at;
    }

    /** @return list<int> ticks of the columns: sections, and what lies behind the last */
    public function columns(): array
    {
        return [...array_map(static fn (array $e): int => $e['ticks'] * $e['repeats'], $this->entries), ...($this->behind > 0 ? [$this->behind] : [])];
    }

    /** @return array<string, mixed> the section that a tick lies under: its end, and its name; of the last where there is none */
    public function under(int $tick): array
    {
        foreach ($this->entries as $entry) {
            if ($tick < $end = $entry['from'] + $entry['ticks'] * $entry['repeats']) {
                return ['name' => $entry['section']->name, 'end' => $end];
            }
        }

        return ['name' => 'the song', 'end' => $this->ticks];
    }

    /** @return list<int> ticks at which bars begin, each in the meter of its section */
    public function bars(): array
    {
        $bars = SongBars::of($this->beat)->starts;
        for ($at = $this->ticks - $this->behind; $at < $this->ticks; $at += $this->beat->meter->barTicks()) {
            $bars[] = $at;
        }

        return $bars;
    }

    /** @return list<MovementLane> what moves: lines of the mixer in their order, the song before what hides it */
    public function lanes(): array
    {
        $order = array_flip([...array_keys($this->beat->mixer->nodes), 'master']);
        // What an older version let move and this one does not know is kept, and not shown.
        $movements = array_values($this->beat->movements->only(fn (Movement $m): bool => null !== Parameters::find($this->beat, $m->path))->all);
        $place = static fn (Movement $m): array => [Movement::TEMPO === $m->path ? -1 : $order[explode('/', $m->path)[1] ?? ''] ?? 999, $m->path, $m->scope->depth(), $m->of];
        usort($movements, static fn (Movement $a, Movement $b): int => $place($a) <=> $place($b));

        return array_map(fn (Movement $m): MovementLane => new MovementLane($this->beat, $m, $this->spans($m), $this->hidden($m)), $movements);
    }

    /**
     * What moves by the line of the mixer it belongs to. Where there is much, lines of which several things move are folded
     * into one lane each, until they are opened or one of theirs is chosen.
     *
     * @return list<array{id: string, name: string, lanes: non-empty-list<MovementLane>, folds: bool, folded: bool, url: string}>
     */
    public function groups(): array
    {
        $lanes = $this->lanes();
        $groups = [];
        foreach ($lanes as $lane) {
            $groups[implode('/', \array_slice(explode('/', $lane->movement->path), 0, 2))][] = $lane;
        }
        $open = array_filter(explode(',', $this->page->chosen('unfold')));
        $rows = [];
        foreach ($groups as $id => $own) {
            $line = $this->beat->mixer->line(explode('/', $id)[1] ?? '');
            $chosen = [] !== array_filter($own, fn (MovementLane $l): bool => $l->id() === $this->page->chosen('moves'));
            $folds = \count($lanes) > self::SHOWN && \count($own) > 1;
            $rows[] = [
                'id' => $id,
                'name' => $line instanceof Node ? $line->name : (null === $line ? $own[0]->owner : 'Master'),
                'lanes' => $own,
                'folds' => $folds,
                'folded' => $folds && !$chosen && !\in_array($id, $open, true),
                'url' => $this->page->url(null, ['unfold' => implode(',', \in_array($id, $open, true) ? array_diff($open, [$id]) : [...$open, $id]), ...$chosen ? ['moves' => ''] : []]),
            ];
        }

        return $rows;
    }

    public function lane(string $id): ?MovementLane
    {
        foreach ($this->lanes() as $lane) {
            if ($lane->id() === $id) {
                return $lane;
            }
        }

        return null;
    }

    /** @return array<string, array<string, string>> names, by path, of what a movement could be copied to, by what that belongs to: others of its own, and what is called as it is elsewhere */
    public function copies(MovementLane $lane): array
    {
        $path = $lane->movement->path;
        $own = implode('/', \array_slice(explode('/', $path), 0, 2));
        $copies = [];
        foreach (array_keys(Parameters::movers($this->beat)) as $under) {
            foreach (Parameters::moving($this->beat, $under) as $setting) {
                if ($setting->path !== $path && ($under === $own || $setting->parameter->name === $lane->name)) {
                    $copies[$setting->owner][$setting->path] = $setting->parameter->name;
                }
            }
        }

        return $copies;
    }

    /** @return list<array{int, int, int}> where a movement is heard in the song: tick, how long, and from which of its own ticks on */
    private function spans(Movement $movement): array
    {
        if (Scope::Song === $movement->scope) {
            return [[0, $this->ticks, 0]];
        }

        return array_map(static fn (array $coming): array => [$coming[0], $coming[1], 0], Passage::comings($this->beat, $movement->scope, $movement->of));
    }

    /** @return list<array{int, int}> where others that lie further in are heard in its place: tick and how long */
    private function hidden(Movement $movement): array
    {
        $hidden = [];
        foreach ($this->beat->movements->all as $other) {
            if ($other->on && $other->path === $movement->path && $other->scope->depth() > $movement->scope->depth()) {
                foreach ($this->spans($other) as [$from, $ticks]) {
                    $hidden[] = [$from, $ticks];
                }
            }
        }

        return $hidden;
    }
}
