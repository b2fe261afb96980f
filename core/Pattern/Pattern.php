<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Ticks;

/** Hits over one or more bars, in order of time. */
final readonly class Pattern
{
    public const MAX_BARS = 16;
    public const MAX_HITS = 20_000;

    /** @param list<Hit> $hits ordered by tick, then pad; all within the bars */
    private function __construct(
        public string $id,
        public string $name,
        public int $bars,
        public Swing $swing,
        public array $hits,
    ) {
    }

    public static function empty(string $id, string $name, int $bars = 1): self
    {
        return new self($id, $name, $bars, Swing::percent(50), []);
    }

    /** @param list<Hit> $hits in any order; those beyond the bars are kept out, later ones replace earlier at the same place */
    public static function of(string $id, string $name, int $bars, Swing $swing, array $hits): self
    {
        $kept = [];
        foreach ($hits as $hit) {
            if ($hit->tick >= 0 && $hit->tick < $bars * Ticks::PER_BAR) {
                $kept[$hit->key()] = $hit;
            }
        }
        if (\count($kept) > self::MAX_HITS) {
            throw new \InvalidArgumentException(\sprintf('%s would hold %s hits; a pattern holds at most %s.', $name, number_format(\count($kept)), number_format(self::MAX_HITS)));
        }
        usort($kept, static fn (Hit $a, Hit $b): int => [$a->tick, $a->pad] <=> [$b->tick, $b->pad]);

        return new self($id, $name, $bars, $swing, $kept);
    }

    public function lengthTicks(): int
    {
        return $this->bars * Ticks::PER_BAR;
    }

    /** @param list<Hit> $hits */
    public function withHits(array $hits): self
    {
        return self::of($this->id, $this->name, $this->bars, $this->swing, $hits);
    }

    public function withBars(int $bars): self
    {
        return self::of($this->id, $this->name, $bars, $this->swing, $this->hits);
    }

    public function withSwing(Swing $swing): self
    {
        return new self($this->id, $this->name, $this->bars, $swing, $this->hits);
    }

    public function renamed(string $name): self
    {
        return new self($this->id, $name, $this->bars, $this->swing, $this->hits);
    }

    public function copiedAs(string $id, string $name): self
    {
        return new self($id, $name, $this->bars, $this->swing, $this->hits);
    }

    /** Bar $bar (from 0) written over all others. */
    public function withBarRepeated(int $bar): self
    {
        $hits = [];
        foreach ($this->hits as $hit) {
            if (intdiv($hit->tick, Ticks::PER_BAR) === $bar) {
                for ($b = 0; $b < $this->bars; ++$b) {
                    $hits[] = $hit->later(($b - $bar) * Ticks::PER_BAR);
                }
            }
        }

        return $this->withHits($hits);
    }

    /** Every hit moved to the nearest sixteenth; one that rounds up to the end goes to the start. */
    public function quantised(): self
    {
        return $this->withHits(array_map(
            fn (Hit $hit): Hit => $hit->at(Ticks::snap($hit->tick) % $this->lengthTicks()),
            $this->hits,
        ));
    }
}
