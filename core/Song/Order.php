<?php

namespace Pestle\Core\Song;

/** Patterns one after another, each with its repeats: what makes patterns a beat. */
final readonly class Order
{
    public const MAX_PARTS = 200;
    public const MAX_REPEATS = 64;

    /** @param list<array{pattern: string, repeats: int}> $parts */
    public function __construct(public array $parts = [])
    {
    }

    public function withoutPattern(string $id): self
    {
        return new self(array_values(array_filter($this->parts, static fn (array $part): bool => $part['pattern'] !== $id)));
    }
}
