<?php

namespace Pestle\Core\Song;

use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;

/**
 * A performance: what was chosen, in order of time. Looking back it is what was played, looking ahead what is planned;
 * where nothing is chosen anew, all goes on as it is.
 */
final readonly class LiveSet
{
    /** Each may come to two entries of the song, which holds 200. */
    public const MOST = 95;
    /** Ticks: what is held over all may begin anywhere on a sixty-fourth. */
    public const FINEST = 60;

    /** @param list<LiveChoice> $choices in order of time, the first of them where it begins */
    private function __construct(public array $choices)
    {
    }

    public static function begin(Section $section): self
    {
        return new self([new LiveChoice('l0', 0, $section->patterns, array_fill_keys($section->muted, true))]);
    }

    /** @param list<LiveChoice> $choices in any order */
    public static function of(array $choices): self
    {
        usort($choices, static fn (LiveChoice $a, LiveChoice $b): int => $a->tick <=> $b->tick ?: strnatcmp($a->id, $b->id));

        return new self($choices);
    }

    /**
     * With one more; what was to come for the same parts gives way to it.
     *
     * @param int $now what lies before has been played and stays
     */
    public function with(LiveChoice $choice, int $now): self
    {
        $others = array_map(static fn (LiveChoice $c): LiveChoice => $c->tick >= $now && 0 < $c->tick ? $c->yielding($choice) : $c, $this->choices);

        return self::of([...array_values(array_filter($others, static fn (LiveChoice $c): bool => 0 === $c->tick || $c->says())), $choice]);
    }

    /** Takes back what is to come yet. */
    public function without(string $id, int $now): self
    {
        return new self(array_values(array_filter($this->choices, static fn (LiveChoice $c): bool => $c->id !== $id || $c->tick < $now || 0 === $c->tick)));
    }

    /** As it was up to a tick. */
    public function until(int $tick): self
    {
        return new self(array_values(array_filter($this->choices, static fn (LiveChoice $c): bool => 0 === $c->tick || $c->tick < $tick)));
    }

    public function nextId(): string
    {
        return 'l'.(1 + max([0, ...array_map(static fn (LiveChoice $c): int => (int) substr($c->id, 1), $this->choices)]));
    }

    /** @return array<string, array{string, int}> by part the pattern it plays at a tick, and since when */
    public function playing(int $tick): array
    {
        $playing = [];
        foreach ($this->choices as $choice) {
            if ($choice->tick > $tick) {
                break;
            }
            foreach ($choice->patterns as $part => $pattern) {
                $playing[$part] = [$pattern, $choice->tick];
            }
        }

        return array_filter($playing, static fn (array $p): bool => null !== $p[0]);
    }

    /** @return list<string> parts that are silent at a tick */
    public function muted(int $tick): array
    {
        $muted = [];
        foreach ($this->choices as $choice) {
            $muted = $choice->tick > $tick ? $muted : array_replace($muted, $choice->muted);
        }

        return array_map(strval(...), array_keys(array_filter($muted)));
    }

    /**
     * When an effect is held.
     *
     * @param string $part over which it is held; none for everything
     *
     * @return list<array{int, int|null}> ticks from and to; null while it is not let go
     */
    public function held(HeldEffect $effect, string $part = ''): array
    {
        $times = [];
        $since = null;
        foreach ($this->choices as $choice) {
            $on = $choice->held[$effect->of($part)] ?? null;
            if (true === $on) {
                $since ??= $choice->tick;
            } elseif (false === $on && null !== $since) {
                $times[] = [$since, $choice->tick];
                $since = null;
            }
        }

        return null === $since ? $times : [...$times, [$since, null]];
    }

    /** The tick at which an effect was begun that is held at another; null while it is not. */
    public function heldSince(HeldEffect $effect, int $tick, string $part = ''): ?int
    {
        foreach ($this->held($effect, $part) as [$from, $to]) {
            if ($tick >= $from && (null === $to || $tick < $to)) {
                return $from;
            }
        }

        return null;
    }

    /** @return list<string> parts over which something was held by itself */
    public function heldParts(): array
    {
        $keys = array_merge(...array_map(static fn (LiveChoice $c): array => array_keys($c->held), $this->choices));

        return array_values(array_unique(array_filter(array_map(static fn (string $key): string => explode('/', $key)[1] ?? '', $keys))));
    }

    /** @return list<int> ticks at which other patterns play or others are silent, between two of them */
    public function cuts(int $from, int $to): array
    {
        $isPlayed = static fn (string $held): bool => true === HeldEffect::tryFrom(explode('/', $held)[0])?->isPlayed();
        $says = array_filter($this->choices, static fn (LiveChoice $c): bool => [] !== $c->patterns || [] !== $c->muted || [] !== array_filter(array_keys($c->held), $isPlayed));

        return array_values(array_unique(array_filter(array_map(static fn (LiveChoice $c): int => $c->tick, array_values($says)), static fn (int $t): bool => $t > $from && $t < $to)));
    }

    public function lastTick(): int
    {
        return $this->choices[\count($this->choices) - 1]->tick;
    }

    /**
     * When something chosen comes.
     *
     * @param string $wait   once, now (a sixteenth), beat, half, bar, 2, 4 (bars), or end: of what plays
     * @param int    $from   tick before which it cannot
     * @param int    $length of what plays, for its end; and the tick at which that began
     */
    public static function comes(string $wait, int $from, Meter $meter, int $length, int $since): int
    {
        if ('end' === $wait) {
            return $since + self::up($from - $since, max(1, $length));
        }

        return self::up($from, match ($wait) {
            'now' => Ticks::PER_STEP,
            'once' => self::FINEST,
            'beat' => $meter->beatTicks(),
            'half' => intdiv($meter->barTicks(), 2),
            '2', '4' => (int) $wait * $meter->barTicks(),
            default => $meter->barTicks(),
        });
    }

    private static function up(int $tick, int $grid): int
    {
        return (int) ceil(max(0, $tick) / $grid) * $grid;
    }

    /** @return list<array{id: string, tick: int, patterns: object, muted: object, held: object}> */
    public function toArray(): array
    {
        return array_map(static fn (LiveChoice $c): array => ['id' => $c->id, 'tick' => $c->tick, 'patterns' => (object) $c->patterns, 'muted' => (object) $c->muted, 'held' => (object) $c->held], $this->choices);
    }
}
