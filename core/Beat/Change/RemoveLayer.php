<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Pad;

/** Takes one of its sounds off a pad; those that share the strengths share them out anew. */
final readonly class RemoveLayer implements Change
{
    private function __construct(private string $pad, private int $layer)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'), $fields->whole('layer', 0, Pad::MAX_LAYERS - 1));
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        $layers = $pad->layers;
        unset($layers[$this->layer]);
        if ([] === $layers) {
            throw new InvalidChange('This is the only sound of the pad: clear the pad instead.');
        }
        $pad = $pad->with(['layers' => array_values($layers)]);

        return $beat->withKit($beat->kit->withPad(Answer::Strength === $pad->answer ? $pad->split() : $pad));
    }

    public function label(Beat $beat): string
    {
        return ($beat->pad($this->pad)->layers[$this->layer]->name ?? 'A sound').' off '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad];
    }
}
