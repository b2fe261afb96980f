<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Movement;

/** Lets two pads change places; their hits go with them. One of the two may be free. */
final readonly class SwapPads implements Change
{
    private function __construct(private string $pad, private string $with)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'), $fields->id('with'));
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        if (!$beat->kit->hasPlace($this->with)) {
            throw InvalidChange::field('with', 'must be a place in one of the banks.');
        }
        $pads = array_diff_key($beat->kit->pads, [$this->pad => true, $this->with => true]);
        $pads[$this->with] = $pad->with(['id' => $this->with]);
        $other = $beat->kit->pad($this->with);
        if (null !== $other) {
            $pads[$this->pad] = $other->with(['id' => $this->pad]);
        }
        $names = [$this->pad => $this->with, $this->with => $this->pad];
        $patterns = array_map(static fn (Pattern $p): Pattern => $p->withHits(array_map(
            static fn (Hit $h): Hit => $h->on($names[$h->pad] ?? $h->pad),
            $p->hits,
        )), $beat->patterns);

        // What moves of them goes along.
        $movements = $beat->movements->each(static function (Movement $m) use ($names): Movement {
            [$kind, $id, $rest] = [...explode('/', $m->path, 3), '', ''];

            return 'kit' === $kind && isset($names[$id]) ? $m->with(['path' => 'kit/'.$names[$id].'/'.$rest]) : $m;
        });

        return $beat->with(['patterns' => $patterns, 'kit' => Kit::of($beat->kit->banks, $pads), 'movements' => $movements]);
    }

    public function label(Beat $beat): string
    {
        return 'Move '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit', 'pattern'];
    }
}
