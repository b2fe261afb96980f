<?php

namespace Pestle\Core\Beat;

/** A change that can't be made; the message names the field and says what is allowed. */
final class InvalidChange extends \DomainException
{
    public static function field(string $field, string $rule): self
    {
        return new self(\sprintf('%s %s', $field, $rule));
    }
}
