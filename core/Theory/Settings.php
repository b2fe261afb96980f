<?php

namespace Pestle\Core\Theory;

/** Settable for a value whose parameters are fields, with nothing inside. */
trait Settings
{
    public function settings(): array
    {
        return array_intersect_key(get_object_vars($this), self::parameters());
    }

    public function inner(): array
    {
        return [];
    }

    public function withInner(string $path, Settable $inner): static
    {
        throw new \OutOfBoundsException('Nothing is inside: '.$path);
    }
}
