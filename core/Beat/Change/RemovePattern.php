<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Section;

/** Takes a pattern out of the beat and out of its sections. */
final readonly class RemovePattern implements Change
{
    private function __construct(private string $pattern)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pattern'));
    }

    public function apply(Beat $beat): Beat
    {
        $beat->pattern($this->pattern);

        return $beat->with([
            'patterns' => array_diff_key($beat->patterns, [$this->pattern => true]),
            'sections' => array_map(fn (Section $s): Section => $s->with(['patterns' => array_diff($s->patterns, [$this->pattern])]), $beat->sections),
        ]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->pattern($this->pattern)->name;
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern, 'section'];
    }
}
