<?php

namespace Pestle\Core\Mix;

/** What an insert goes on with: a few numbers, and where it remembers sound, that. */
final readonly class InsertState
{
    /** @param list<float> $numbers always as many for the same kind of insert */
    public function __construct(public array $numbers, public ?Memory $memory = null)
    {
    }

    /** Equal for equal states. */
    public function name(): string
    {
        return pack('e*', ...$this->numbers).($this->memory?->name() ?? '');
    }

    public function equals(self $other): bool
    {
        return $this === $other || ($this->numbers === $other->numbers && ($this->memory?->name() ?? '') === ($other->memory?->name() ?? ''));
    }
}
