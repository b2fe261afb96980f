<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Shape;
use Pestle\Core\Theory\Ticks;

/** Begins a movement with a shape, between two ticks and two values; beside it, it moves as it did. */
final readonly class ShapeMovement implements Change
{
    private function __construct(private Moving $moving, private Shape $shape, private float $from, private float $to, private float $low, private float $high, private int $every, private int $seed)
    {
    }

    public static function from(Fields $fields): self
    {
        $from = $fields->number('from', 0, 1e9);

        return new self(
            Moving::from($fields),
            $fields->choice('shape', Shape::class),
            $from,
            $fields->number('to', $from + 1.0, 1e9),
            $fields->number('low', -1e6, 1e6),
            $fields->number('high', -1e6, 1e6),
            $fields->has('every') ? $fields->whole('every', 1, 1 << 20) : Ticks::PER_QUARTER,
            $fields->has('seed') ? $fields->whole('seed', 0, 1 << 40) : 1,
        );
    }

    public function apply(Beat $beat): Beat
    {
        $was = $this->moving->curve($beat);
        $points = array_map(fn (array $p): array => [$p[0], $this->low + ($this->high - $this->low) * $p[1], $p[2]], $this->shape->points($this->from, $this->to - $this->from, (float) $this->every, $this->seed));
        $before = $this->from <= 0.0 ? [] : $was->piece(0.0, $this->from);
        $after = array_values(array_filter($was->points, fn (array $p): bool => $p[0] > $this->to));

        return $this->moving->moved($beat, [...$before, ...$points, ...$after]);
    }

    public function label(Beat $beat): string
    {
        return \sprintf('%s: %s', $this->moving->words($beat), $this->shape->value);
    }

    public function touches(): array
    {
        return $this->moving->touches();
    }
}
