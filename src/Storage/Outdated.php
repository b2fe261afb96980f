<?php

namespace Pestle\App\Storage;

/** A change made on a beat that has moved on where the change would touch it. */
final class Outdated extends \RuntimeException
{
    /** @param list<string> $moved labels of what was changed meanwhile */
    public function __construct(public readonly array $moved)
    {
        parent::__construct(\sprintf('Meanwhile, this was changed in another window: %s.', implode(', ', \array_slice($moved, -3)) ?: 'the beat'));
    }
}
