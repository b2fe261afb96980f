<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\LaneShape;

/** Works on a whole lane: fills it, turns it round, moves it by a step, clears it; or lays its hits on another sound as well. */
final readonly class ShapeLane implements Change
{
    private function __construct(private string $pattern, private string $pad, private ?LaneShape $shape, private ?string $to, private int $step, private int $every, private int $velocity)
    {
    }

    public static function from(Fields $fields): self
    {
        $to = $fields->has('to') ? $fields->id('to') : null;

        return new self(
            $fields->id('pattern'),
            $fields->id('lane'),
            null === $to ? $fields->choice('how', LaneShape::class) : null,
            $to,
            $fields->has('step') ? $fields->whole('step', 15, 3840) : 240,
            $fields->has('every') ? $fields->whole('every', 1, 64) : 1,
            $fields->has('velocity') ? $fields->whole('velocity', 1, 127) : 100,
        );
    }

    public function apply(Beat $beat): Beat
    {
        $pattern = $beat->pattern($this->pattern);
        $pad = $beat->pad($this->pad)->id;
        $own = array_values(array_filter($pattern->hits, static fn (Hit $hit): bool => $hit->pad === $pad));
        if (null !== $this->to) {
            $to = $beat->pad($this->to)->id;

            return $beat->withPattern($pattern->withHits([...$pattern->hits, ...array_map(static fn (Hit $hit): Hit => $hit->on($to), $own)]));
        }
        if (null === $this->shape) {
            throw new InvalidChange('Nothing to change was named.');
        }
        $ticks = min($pattern->ticks, $pattern->lane($pad)->ticks ?? $pattern->ticks);
        $others = array_filter($pattern->hits, static fn (Hit $hit): bool => $hit->pad !== $pad);

        return $beat->withPattern($pattern->withHits([...array_values($others), ...$this->shape->of($pad, $own, $ticks, $this->step, $this->every, $this->velocity)]));
    }

    public function label(Beat $beat): string
    {
        $name = $beat->kit->pad($this->pad)->name ?? 'a lane';

        return null === $this->to ? $this->shape?->label().' '.$name : \sprintf('Hits of %s on %s as well', $name, $beat->kit->pad($this->to)->name ?? 'another sound');
    }

    public function touches(): array
    {
        return ['pattern/'.$this->pattern.'/'.$this->pad, ...null === $this->to ? [] : ['pattern/'.$this->pattern.'/'.$this->to]];
    }
}
