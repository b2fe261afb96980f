<?php

namespace Pestle\Core\Render;

/** How loud it was lately, where what is played comes piece after piece. */
final class Recent
{
    public ?Loud $last = null;
    /** @var list<array{float, float}> the last seconds, as Loud has them */
    public array $powers = [];

    /** @param list<array{float, float}> $powers */
    public function add(array $powers): void
    {
        $this->powers = \array_slice([...$this->powers, ...$powers], -LiveLoudness::most());
    }
}
