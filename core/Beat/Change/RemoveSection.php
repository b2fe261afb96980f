<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Entry;

/** Takes a section out of the beat. Its patterns stay with their parts. */
final readonly class RemoveSection implements Change
{
    private function __construct(private string $section)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('section'));
    }

    public function apply(Beat $beat): Beat
    {
        $beat->section($this->section);
        $sections = array_diff_key($beat->sections, [$this->section => true]);
        if ([] === $sections) {
            throw new InvalidChange('A beat keeps at least one section.');
        }

        return $beat->with(['sections' => $sections, 'song' => array_filter($beat->song, fn (Entry $e): bool => $e->section !== $this->section)]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->section($this->section)->name;
    }

    public function touches(): array
    {
        return ['section/'.$this->section, 'song'];
    }
}
