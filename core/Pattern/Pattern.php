<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Ticks;

/** What a part plays over a length of its own: hits of a kit or notes of an instrument, in order of time. */
final readonly class Pattern implements Settable
{
    use Settings;

    public const MAX_BARS = 64;
    public const MAX_HITS = 20_000;
    /** Ticks of 64 bars of the longest meter. */
    private const MAX_TICKS = self::MAX_BARS * Meter::MAX_BEATS * Ticks::PER_QUARTER;

    /**
     * @param list<Hit>  $hits  ordered by tick, then pad; all within its length
     * @param list<Note> $notes ordered by tick, then pitch; all within its length
     */
    private function __construct(
        public string $id,
        public string $name,
        public string $part,
        public int $ticks,
        public Swing $swing,
        public array $hits,
        public array $notes,
    ) {
    }

    public static function empty(string $id, string $name, string $part, int $ticks): self
    {
        return self::of($id, $name, $part, $ticks, Swing::percent(50), []);
    }

    /**
     * @param list<Hit>  $hits  in any order; those beyond its length are kept out, later ones replace earlier at the same place
     * @param list<Note> $notes likewise
     */
    public static function of(string $id, string $name, string $part, int $ticks, Swing $swing, array $hits, array $notes = []): self
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

        return new self($id, $name, $part, $ticks, $swing, $hits, $notes);
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
        return ['swing' => Parameter::number('Swing', '%', 50.0, 75.0, 50.0, 0.5)];
    }

    public function settings(): array
    {
        return ['swing' => $this->swing->percent];
    }

    public function with(array $changed): static
    {
        if (\is_float($changed['swing'] ?? null)) {
            $changed['swing'] = Swing::percent($changed['swing']);
        }
        /** @var array{id: string, name: string, part: string, ticks: int, swing: Swing, hits: list<Hit>, notes: list<Note>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return self::of(...$all);
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

    /** Everything moved to the nearest sixteenth; what rounds up to the end goes to the start. */
    public function quantised(): self
    {
        $snapped = fn (int $tick): int => Ticks::snap($tick) % $this->ticks;

        return $this->with([
            'hits' => array_map(static fn (Hit $hit): Hit => $hit->at($snapped($hit->tick)), $this->hits),
            'notes' => array_map(static fn (Note $note): Note => $note->at($snapped($note->tick)), $this->notes),
        ]);
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
