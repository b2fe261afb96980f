<?php

namespace Pestle\App\Storage;

/** A beat whose newest revision can't be read; those before it are still there. */
final class Unreadable extends \RuntimeException
{
    public function __construct(public readonly int $beat, string $name, \Throwable $why)
    {
        parent::__construct(\sprintf('%s cannot be read as it was stored last: %s', $name, $why->getMessage()), 0, $why);
    }
}
