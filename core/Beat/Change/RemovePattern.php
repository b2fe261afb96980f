<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Takes a pattern out of the beat and out of its order. */
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
        if (1 === \count($beat->patterns)) {
            throw new InvalidChange('A beat keeps at least one pattern.');
        }

        return $beat->with([
            'patterns' => array_diff_key($beat->patterns, [$this->pattern => true]),
            'order' => $beat->order->withoutPattern($this->pattern),
        ]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->pattern($this->pattern)->name;
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern, 'order'];
    }
}
