<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\Unpacked;
use Pestle\Core\Signal\Peak;

/**
 * Values that came one after another, of several lines, all of them multiples of Memory::STEP; as many of each where they
 * came together. Held as numbers while they
 * are worked with; where they wait, packed into a quarter of the room.
 */
final class MemoryPiece
{
    /** Below this, multiples of Memory::STEP fit into 32-bit floats as they are. */
    private const SHORT = 4.0;

    public readonly int $frames;
    /** @var non-empty-list<int> values of each line */
    private readonly array $sizes;
    private ?float $peak = null;
    /** @var non-empty-list<list<float>>|null */
    private ?array $lines;
    private ?string $packed = null;
    private ?string $name = null;

    /** @param non-empty-list<list<float>> $lines */
    public function __construct(array $lines)
    {
        $this->lines = $lines;
        $this->sizes = array_map(\count(...), $lines);
        $this->frames = $this->sizes[0];
    }

    /** @return non-empty-list<list<float>> */
    public function lines(): array
    {
        if (null === $this->lines) {
            [$code, $size] = $this->peak() < self::SHORT ? ['g', 4] : ['e', 8];
            $values = Unpacked::numbers($code, $size, (string) $this->packed);
            /** @var list<float> $values */
            $this->lines = [\array_slice($values, 0, $this->frames)];
            $at = $this->frames;
            foreach (\array_slice($this->sizes, 1) as $count) {
                $this->lines[] = \array_slice($values, $at, $count);
                $at += $count;
            }
        }

        return $this->lines;
    }

    public function isSilent(): bool
    {
        // What ends with something is not silent: that is nearly always told by one value.
        return 0.0 === ($this->lines[0][$this->frames - 1] ?? 0.0) && 0.0 === $this->peak();
    }

    /** Bytes it takes while it waits. */
    public function bytes(): int
    {
        return ($this->peak() < self::SHORT ? 4 : 8) * (int) array_sum($this->sizes);
    }

    /** The same name means the same values. */
    public function name(): string
    {
        return $this->name ??= hash('xxh128', $this->pack(), true);
    }

    /** Lets go of the numbers. */
    public function wait(): void
    {
        $this->pack();
        $this->lines = null;
    }

    private function peak(): float
    {
        return $this->peak ??= max(array_map(Peak::of(...), $this->lines ?? [[]]));
    }

    private function pack(): string
    {
        $code = $this->peak() < self::SHORT ? 'g*' : 'e*';

        return $this->packed ??= implode('', array_map(static fn (array $line): string => pack($code, ...$line), $this->lines()));
    }
}
