<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Pattern\Hit;

/** Puts all hits of a place onto another pad, in every pattern: also those of a place that holds no sound any more. */
final readonly class MoveHits implements Change
{
    private function __construct(private string $from, private string $to)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('from'), $fields->id('to'));
    }

    public function apply(Beat $beat): Beat
    {
        $beat->pad($this->to);
        foreach ($beat->patterns as $pattern) {
            $beat = $beat->withPattern($pattern->withHits(array_map(fn (Hit $hit): Hit => $hit->pad === $this->from ? $hit->on($this->to) : $hit, $pattern->hits)));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return \sprintf('Hits of %s on %s', $beat->kit->pad($this->from)->name ?? 'a silent place', $beat->pad($this->to)->name);
    }

    public function touches(): array
    {
        return ['pattern'];
    }
}
