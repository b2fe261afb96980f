<?php

namespace Pestle\Core\Audio;

/** A file that can't be read as sound; the message names the file and says what to do. */
final class UnreadableAudio extends \RuntimeException
{
    public static function because(string $name, string $reason): self
    {
        return new self(\sprintf('%s: %s', $name, $reason));
    }
}
