<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/** Takes out what a pad, or a note, plays while it was held with erase on: between two places, by what is heard there; over the end it goes on at the start. */
final readonly class EraseHeld implements Change
{
    private function __construct(private string $pattern, private ?string $pad, private int $pitch, private int $from, private int $to)
    {
    }

    public static function from(Fields $fields): self
    {
        $pad = $fields->has('pad') ? $fields->id('pad') : null;

        return new self($fields->id('pattern'), $pad, null === $pad ? $fields->whole('pitch', 0, Note::MAX_PITCH) : 0, $fields->whole('from', 0, Pattern::MAX_TICKS), $fields->whole('to', 0, 2 * Pattern::MAX_TICKS));
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $stays = function (Hit|Note $event) use ($beat, $pattern): bool {
            if ($event instanceof Hit ? $event->pad !== $this->pad : null !== $this->pad || $event->pitch !== $this->pitch) {
                return true;
            }
            $heard = $beat->feeling($pattern->feelFor($event))->played($event);
            $behind = (($heard->tick - $this->from) % $pattern->ticks + $pattern->ticks) % $pattern->ticks;

            return $behind >= min($pattern->ticks, max(0, $this->to - $this->from));
        };
        $left = $pattern->with(['hits' => array_values(array_filter($pattern->hits, $stays)), 'notes' => array_values(array_filter($pattern->notes, $stays))]);
        if (\count($left->hits) + \count($left->notes) === \count($pattern->hits) + \count($pattern->notes)) {
            throw new InvalidChange('Nothing lay there to be erased.');
        }

        return $beat->withPattern($left);
    }

    public function label(Beat $beat): string
    {
        return 'Erased '.(null === $this->pad ? 'notes' : ($beat->kit->pad($this->pad)->name ?? 'hits'));
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern.(null === $this->pad ? '' : '/'.$this->pad)];
    }
}
