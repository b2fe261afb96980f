<?php

namespace Pestle\Core\Theory;

/** A value with settings of its own, and perhaps others inside it that have some as well. */
interface Settable
{
    /** @return array<string, Parameter> by field */
    public static function parameters(): array;

    /** @return array<string, mixed> what each of its parameters is set to */
    public function settings(): array;

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): static;

    /** @return array<string, self> what is inside, by its path from here, such as "inserts/i1/bands/2" */
    public function inner(): array;

    public function withInner(string $path, self $inner): static;
}
