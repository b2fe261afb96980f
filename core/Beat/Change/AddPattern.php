<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Scope;

/** Adds an empty pattern, or a copy of another, and lets a section's part play it if one is named. */
final readonly class AddPattern implements Change
{
    private const BARS = 2;

    private function __construct(private string $id, private string $name, private ?string $copyOf, private ?string $part, private ?string $section)
    {
    }

    public static function from(Fields $fields): self
    {
        $id = static fn (string $field): ?string => $fields->has($field) ? $fields->id($field) : null;

        return new self($fields->id('id'), $fields->text('name'), $id('copyOf'), $id('part'), $id('section'));
    }

    public function apply(Beat $beat): Beat
    {
        if (isset($beat->patterns[$this->id])) {
            throw new InvalidChange('A pattern with this id is in the beat already.');
        }
        $pattern = null === $this->copyOf
            ? Pattern::empty($this->id, $this->name, $beat->part($this->part ?? $beat->firstKit()->id)->id, self::BARS * $beat->meter->barTicks())
            : $beat->pattern($this->copyOf)->with(['id' => $this->id, 'name' => $this->name]);
        $beat = $beat->withPattern($pattern);
        $beat = null === $this->copyOf ? $beat : $beat->with(['movements' => $beat->movements->copied(Scope::Pattern, $this->copyOf, $this->id)]);

        return null === $this->section ? $beat : $beat->withSection($beat->section($this->section)->withCell($pattern->part, $pattern->id));
    }

    public function label(Beat $beat): string
    {
        return null === $this->copyOf ? 'New pattern' : 'Duplicate '.$beat->pattern($this->copyOf)->name;
    }

    public function touches(): array
    {
        return ['pattern/'.$this->id, ...(null === $this->copyOf ? [] : ['pattern/'.$this->copyOf]), ...(null === $this->section ? [] : ['section/'.$this->section])];
    }
}
