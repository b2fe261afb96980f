<?php

namespace Pestle\Core\Exchange\Carried;

/** An archive that cannot be taken in; the message names it, the entry and what to do. Nothing of it was taken. */
final class Damaged extends \RuntimeException
{
    public static function entry(string $archive, string $entry, string $what): self
    {
        return new self(\sprintf('%s: %s %s. Copy the archive again from where it was made; nothing of it was taken in.', $archive, $entry, $what));
    }
}
