<?php

namespace Pestle\Core\Song;

use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Meter;

/**
 * A stretch of a song: what each part plays in it, together. Shorter patterns go round until the longest filled one
 * ends, or until the section's own length is over; what is empty counts for nothing.
 */
final readonly class Section
{
    public const MOST = 200;

    /**
     * @param array<string, string> $patterns by part; parts without one are silent
     * @param int|null              $ticks    its own length, where it has one
     * @param Meter|null            $meter    its own meter, where it has one
     * @param list<string>          $muted    parts that are silent although they have a pattern
     */
    public function __construct(public string $id, public string $name, public array $patterns, public ?int $ticks = null, public ?Meter $meter = null, public array $muted = [])
    {
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{id: string, name: string, patterns: array<string, string>, ticks: int|null, meter: Meter|null, muted: list<string>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @param string|null $pattern null for nothing */
    public function withCell(string $part, ?string $pattern): self
    {
        return $this->with(['patterns' => array_filter(array_replace($this->patterns, [$part => $pattern]), static fn (?string $id): bool => null !== $id)]);
    }

    /**
     * How long it goes once; 0 when nothing is in it and it has no length of its own.
     *
     * @param array<string, Pattern> $patterns of the beat
     */
    public function lengthTicks(array $patterns): int
    {
        return $this->ticks ?? max([0, ...array_map(static fn (Pattern $p): int => $p->isEmpty() ? 0 : $p->ticks, $this->its($patterns))]);
    }

    /**
     * How long it goes round while one works on it: where it has no length, as long as its longest empty pattern, and a bar at least.
     *
     * @param array<string, Pattern> $patterns of the beat
     */
    public function loopTicks(array $patterns, Meter $meter): int
    {
        $empty = [($this->meter ?? $meter)->barTicks(), ...array_map(static fn (Pattern $p): int => $p->ticks, $this->its($patterns))];

        return $this->lengthTicks($patterns) ?: max($empty);
    }

    /**
     * @param array<string, Pattern> $patterns of the beat
     *
     * @return list<Pattern> those that are heard in it
     */
    public function its(array $patterns): array
    {
        $heard = array_diff_key($this->patterns, array_flip($this->muted));

        return array_values(array_intersect_key($patterns, array_flip($heard)));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'name' => $this->name, 'patterns' => (object) $this->patterns, 'ticks' => $this->ticks, 'meter' => $this->meter?->name(), 'muted' => $this->muted];
    }
}
