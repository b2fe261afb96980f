<?php

namespace Pestle\Core\Kit;

/** Sixteen pads under a name; a pad's id is its bank's id and its place, as in "a0" to "a15". */
final readonly class Bank
{
    public const SIZE = 16;
    /** What banks are called, with their number, until the maker names them. */
    public const NAME = 'Bank';

    /** @param string $part the kit it belongs to */
    public function __construct(public string $id, public string $name, public string $part)
    {
    }

    /** @return list<string> */
    public function padIds(): array
    {
        return array_map(fn (int $place): string => $this->id.$place, range(0, self::SIZE - 1));
    }
}
