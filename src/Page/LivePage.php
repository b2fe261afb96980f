<?php

namespace Pestle\App\Page;

use Pestle\App\Live\LiveState;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveChoice;
use Pestle\Core\Song\LiveSet;

/** A performance as its view shows it: of each part what it plays when, and what waits. */
final readonly class LivePage
{
    public function __construct(private Beat $beat, private LiveState $state)
    {
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $set = $this->state->set;

        return [
            'version' => $this->state->version, 'now' => $this->state->now, 'bar' => $this->beat->meter->barTicks(), 'bpm' => $this->beat->tempo->bpm,
            'choices' => $set->toArray(), 'most' => LiveSet::MOST,
            'held' => array_merge(...array_map($this->held(...), ['', ...$set->heldParts()])),
            'rows' => array_map(fn (string $part): array => $this->row($set, $part), array_map(strval(...), array_keys($this->beat->parts))),
        ];
    }

    /** @return list<array{name: string, times: list<array{int, int|null}>}> what was held over a part, or over everything */
    private function held(string $part): array
    {
        $name = ($this->beat->parts[$part] ?? null)->name ?? 'a part that is gone';

        return array_map(fn (HeldEffect $effect): array => ['name' => '' === $part ? $effect->label() : $effect->value.', '.$name, 'times' => $this->state->set->held($effect, $part)], HeldEffect::cases());
    }

    /** @return array{part: string, spans: list<array{from: int, pattern: string|null, name: string, muted: bool, choice: string}>} each lasts until the next */
    private function row(LiveSet $set, string $part): array
    {
        $spans = [];
        $own = array_filter($set->choices, static fn (LiveChoice $c): bool => \array_key_exists($part, $c->patterns) || \array_key_exists($part, $c->muted));
        foreach ($own as $choice) {
            [$pattern] = $set->playing($choice->tick)[$part] ?? [null];
            $its = null === $pattern ? null : $this->beat->patterns[$pattern] ?? null;
            // Of two at one tick the later counts.
            $spans[$choice->tick] = ['from' => $choice->tick, 'pattern' => $its?->id, 'name' => $its->name ?? '', 'muted' => \in_array($part, $set->muted($choice->tick), true), 'choice' => $choice->id];
        }

        return ['part' => $part, 'spans' => array_values($spans)];
    }
}
