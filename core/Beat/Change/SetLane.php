<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;

/** Gives a lane a length of its own, or the pattern's again; gives it a feel of its own, which begins as the pattern's, or takes it. */
final readonly class SetLane implements Change
{
    private function __construct(private string $pattern, private string $pad, private bool $length, private ?int $ticks, private ?bool $own)
    {
    }

    public static function from(Fields $fields): self
    {
        $length = \in_array('ticks', $fields->keys(), true);
        $own = $fields->has('ownFeel') ? $fields->flag('ownFeel') : null;
        if (!$length && null === $own) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('pattern'), $fields->id('lane'), $length, $length && $fields->has('ticks') ? $fields->whole('ticks', 60, Pattern::MAX_TICKS) : null, $own);
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $lane = $pattern->lane($beat->pad($this->pad)->id);
        $lane = $this->length ? $lane->with(['ticks' => $this->ticks === $pattern->ticks ? null : $this->ticks]) : $lane;
        $lane = null === $this->own ? $lane : $lane->with(['feel' => $this->own ? $pattern->feelOf($this->pad) : null]);

        return $beat->withPattern($pattern->withLane($this->pad, $lane));
    }

    public function label(Beat $beat): string
    {
        return ($this->length ? 'Length of ' : 'Feel of ').($beat->kit->pad($this->pad)->name ?? 'a lane');
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern.'/'.$this->pad];
    }
}
