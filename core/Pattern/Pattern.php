<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Ticks;

/** What a part plays over a length of its own: hits of a kit or notes of an instrument, in order of time, and how they are felt. */
final readonly class Pattern implements Settable
{
    /** Chosen notes or hits that are felt apart from the rest are groups, whose feel lies beside those of lanes. */
    public const GROUP = 'notes-';
    public const MAX_BARS = 64;
    public const MAX_HITS = 20_000;
    /** Ticks of 64 bars of the longest meter. */
    public const MAX_TICKS = self::MAX_BARS * Meter::MAX_BEATS * Ticks::PER_QUARTER;

    /**
     * @param list<Hit>           $hits   ordered by tick, then pad; all within its length
     * @param list<Note>          $notes  ordered by tick, then pitch; all within its length
     * @param array<string, Lane> $lanes  by pad, where one has something for itself
     * @param string|null         $colour one of the palette's names, where the maker chose one
     */
    private function __construct(
        public string $id,
        public string $name,
        public string $part,
        public int $ticks,
        public Feel $feel,
        public array $hits,
        public array $notes,
        public array $lanes = [],
        public ?string $colour = null,
    ) {
    }

    public static function empty(string $id, string $name, string $part, int $ticks): self
    {
        return self::of($id, $name, $part, $ticks, new Feel(), []);
    }

    /**
     * @param list<Hit>           $hits  in any order; those beyond its length are kept out, later ones replace earlier at the same place
     * @param list<Note>          $notes likewise
     * @param array<string, Lane> $lanes
     */
    public static function of(string $id, string $name, string $part, int $ticks, Feel $feel, array $hits, array $notes = [], array $lanes = [], ?string $colour = null): self
    {
        if ($ticks < 1 || $ticks > self::MAX_TICKS) {
            throw new \InvalidArgumentException(\sprintf('A pattern lasts 1 to %d bars.', self::MAX_BARS));
        }
        [$hits, $notes] = [self::within($hits, $ticks), self::within($notes, $ticks)];
        if (\count($hits) + \count($notes) > self::MAX_HITS) {
            throw new \InvalidArgumentException(\sprintf('%s would hold %s hits; a pattern holds at most %s.', $name, number_format(\count($hits) + \count($notes)), number_format(self::MAX_HITS)));
        }
        usort($hits, static fn (Hit $a, Hit $b): int => $a->tick <=> $b->tick ?: $a->pad <=> $b->pad);
        usort($notes, static fn (Note $a, Note $b): int => $a->tick <=> $b->tick ?: $a->pitch <=> $b->pitch);

        return new self($id, $name, $part, $ticks, $feel, $hits, $notes, array_filter($lanes, static fn (Lane $lane): bool => !$lane->isPlain()), $colour);
    }

    public function lengthTicks(): int
    {
        return $this->ticks;
    }

    /** Whole bars it reaches into. */
    public function bars(Meter $meter): int
    {
        return $meter->bars($this->ticks);
    }

    public function isEmpty(): bool
    {
        return [] === $this->hits && [] === $this->notes;
    }

    public static function parameters(): array
    {
        return [];
    }

    public function settings(): array
    {
        return [];
    }

    public function inner(): array
    {
        $inner = ['feel' => $this->feel];
        foreach ($this->lanes as $pad => $lane) {
            if (null !== $lane->feel) {
                $inner['lanes/'.$pad.'/feel'] = $lane->feel;
            }
        }

        return $inner;
    }

    public function withInner(string $path, Settable $inner): static
    {
        if (!$inner instanceof Feel) {
            throw new \OutOfBoundsException('Nothing of that sort is inside: '.$path);
        }

        return preg_match('~^lanes/([^/]+)/feel$~', $path, $m) ? $this->withLane($m[1], $this->lane($m[1])->with(['feel' => $inner])) : $this->with(['feel' => $inner]);
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, name: string, part: string, ticks: int, feel: Feel, hits: list<Hit>, notes: list<Note>, lanes: array<string, Lane>, colour: string|null} $all */
        $all = [...get_object_vars($this), ...$changed];

        return self::of(...$all);
    }

    public function lane(string $pad): Lane
    {
        return $this->lanes[$pad] ?? new Lane();
    }

    public function withLane(string $pad, Lane $lane): self
    {
        return $this->with(['lanes' => array_replace($this->lanes, [$pad => $lane])]);
    }

    /** @return list<string> ids of groups of notes or hits that are felt apart */
    public function groups(): array
    {
        // What all of whose members were taken out is none any more.
        $used = array_flip([...array_column($this->hits, 'group'), ...array_column($this->notes, 'group')]);

        return array_values(array_filter(array_map(strval(...), array_keys($this->lanes)), static fn (string $id): bool => str_starts_with($id, self::GROUP) && isset($used[$id])));
    }

    public function nextGroup(): string
    {
        for ($n = 1; isset($this->lanes[self::GROUP.$n]); ++$n) {
        }

        return self::GROUP.$n;
    }

    public function feelFor(Hit|Note $event): Feel
    {
        return $this->feelOf($this->feltBy($event));
    }

    /** What an event is felt by: its group, or else the pad of a hit; null for all of the pattern. */
    public function feltBy(Hit|Note $event): ?string
    {
        return isset($this->lanes[$event->group]) ? $event->group : ($event instanceof Hit ? $event->pad : null);
    }

    /** How a pad or a group is felt: as its lane says, or else as all of the pattern is; null for notes of no group. */
    public function feelOf(?string $pad): Feel
    {
        return (null === $pad ? null : ($this->lanes[$pad] ?? null)?->feel) ?? $this->feel;
    }

    /** @param list<Hit> $hits */
    public function withHits(array $hits): self
    {
        return $this->with(['hits' => $hits]);
    }

    /** @param list<Note> $notes */
    public function withNotes(array $notes): self
    {
        return $this->with(['notes' => $notes]);
    }

    /** Bar $bar (from 0) written over all others. */
    public function withBarRepeated(int $bar, Meter $meter): self
    {
        $length = $meter->barTicks();
        $repeated = static function (Hit|Note $event, int $bars) use ($bar, $length): array {
            return intdiv($event->tick, $length) === $bar ? array_map(static fn (int $b): Hit|Note => $event->later(($b - $bar) * $length), range(0, $bars - 1)) : [];
        };
        $bars = $this->bars($meter);
        /** @var list<Hit> $hits */
        $hits = array_merge(...array_map(static fn (Hit $hit): array => $repeated($hit, $bars), $this->hits));
        /** @var list<Note> $notes */
        $notes = array_merge(...array_map(static fn (Note $note): array => $repeated($note, $bars), $this->notes));

        return $this->with(['hits' => $hits, 'notes' => $notes]);
    }

    /** Twice as long, the second half as the first. */
    public function doubled(): self
    {
        return $this->with([
            'ticks' => 2 * $this->ticks,
            'hits' => [...$this->hits, ...array_map(fn (Hit $hit): Hit => $hit->later($this->ticks), $this->hits)],
            'notes' => [...$this->notes, ...array_map(fn (Note $note): Note => $note->later($this->ticks), $this->notes)],
        ]);
    }

    /**
     * As it sounds when it goes round, once for so many ticks, with stretches of that in another order: gone, twice, or apart.
     *
     * @param list<array{int, int, int}> $runs tick there, tick in the new pattern, and how long both are
     */
    public function rearranged(array $runs, int $ticks): self
    {
        // Of a very short one there may be far too many rounds to make them and count them then.
        if (\count([...$this->hits, ...$this->notes]) * (array_sum(array_column($runs, 2)) / $this->ticks - 1.0) > self::MAX_HITS) {
            throw new \InvalidArgumentException(\sprintf('%s would hold more than %s hits; a pattern holds no more.', $this->name, number_format(self::MAX_HITS)));
        }
        $moved = function (Hit|Note $event) use ($runs): array {
            $out = [];
            // A lane with a length of its own goes round by itself.
            $round = $event instanceof Hit && null !== ($this->lanes[$event->pad]->ticks ?? null) ? \PHP_INT_MAX : $this->ticks;
            foreach ($runs as [$was, $is, $long]) {
                $first = \PHP_INT_MAX === $round ? 0 : (int) ceil(($was - $event->tick) / $round);
                for ($turn = max(0, $first); $event->tick + $turn * $round < $was + $long; ++$turn) {
                    if ($event->tick + $turn * $round >= $was) {
                        $out[] = $event->later($turn * $round - $was + $is);
                    }
                    if (\PHP_INT_MAX === $round) {
                        break;
                    }
                }
            }

            return $out;
        };

        return $this->with(['ticks' => $ticks, 'hits' => array_merge(...array_map($moved, $this->hits)), 'notes' => array_merge(...array_map($moved, $this->notes))]);
    }

    /**
     * @template T of Hit|Note
     *
     * @param list<T> $events
     *
     * @return list<T>
     */
    private static function within(array $events, int $ticks): array
    {
        $kept = [];
        foreach ($events as $event) {
            if ($event->tick >= 0 && $event->tick < $ticks) {
                $kept[$event->key()] = $event;
            }
        }

        return array_values($kept);
    }
}
