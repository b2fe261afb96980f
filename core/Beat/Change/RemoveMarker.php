<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Takes a marker out of the song. */
final readonly class RemoveMarker implements Change
{
    private function __construct(private string $marker)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('marker'));
    }

    public function apply(Beat $beat): Beat
    {
        if (!isset($beat->markers[$this->marker])) {
            throw new InvalidChange('This marker is no longer in the song.');
        }

        return $beat->with(['markers' => array_diff_key($beat->markers, [$this->marker => true])]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.($beat->markers[$this->marker]->name ?? 'a marker');
    }

    public function touches(): array
    {
        return ['marker/'.$this->marker];
    }
}
