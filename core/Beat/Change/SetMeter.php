<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Meter;

/** Sets the beat's meter. Patterns keep all they hold: each becomes as many whole bars of the new meter as that takes. */
final readonly class SetMeter implements Change
{
    private function __construct(private Meter $meter)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->meter('meter'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with([
            'meter' => $this->meter,
            'patterns' => array_map(fn (Pattern $p): Pattern => $p->with(['ticks' => $p->bars($this->meter) * $this->meter->barTicks()]), $beat->patterns),
        ]);
    }

    public function label(Beat $beat): string
    {
        return 'Meter '.$this->meter->name();
    }

    public function touches(): array
    {
        return ['meter', 'pattern'];
    }
}
