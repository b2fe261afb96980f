<?php

namespace Pestle\App\Console;

/** Something cannot be written where it was wanted. */
final class CannotWrite extends \RuntimeException
{
    public static function to(string $path, string $why): self
    {
        return new self(\sprintf('%s cannot be written: %s.', $path, $why));
    }
}
