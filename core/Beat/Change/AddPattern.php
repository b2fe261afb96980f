<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;

/** Adds an empty pattern, or a copy of another. */
final readonly class AddPattern implements Change
{
    private function __construct(private string $id, private string $name, private ?string $copyOf)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'), $fields->text('name'), $fields->has('copyOf') ? $fields->id('copyOf') : null);
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->patterns[$this->id])) {
            throw new InvalidChange('A pattern with this id is in the beat already.');
        }

        return $beat->withPattern(null === $this->copyOf
            ? Pattern::empty($this->id, $this->name, 2)
            : $beat->pattern($this->copyOf)->copiedAs($this->id, $this->name));
    }

    public function label(Beat $beat): string
    {
        return null === $this->copyOf ? 'New pattern' : 'Duplicate '.$beat->pattern($this->copyOf)->name;
    }

    public function touches(): array
    {
        return ['pattern/'.$this->id, ...(null === $this->copyOf ? [] : ['pattern/'.$this->copyOf])];
    }
}
