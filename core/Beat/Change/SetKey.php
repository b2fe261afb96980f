<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Theory\Key;

/** Sets the beat's key, or takes it away when none is given. */
final readonly class SetKey implements Change
{
    private function __construct(private ?Key $key)
    {
    }

    public static function from(Fields $fields): self
    {
        try {
            return new self($fields->has('key') ? Key::named($fields->text('key')) : null);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['key' => $this->key]);
    }

    public function label(Beat $beat): string
    {
        return null === $this->key ? 'No key' : 'Key '.$this->key->name();
    }

    public function touches(): array
    {
        return ['key'];
    }
}
