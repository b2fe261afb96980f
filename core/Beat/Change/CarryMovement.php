<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;

/**
 * A movement goes to another parameter, in shares of its range or in values, or belongs to something else from now on: what
 * lay over the song to a section or pattern, as it is where that comes first; what goes with those to the song, wherever they come.
 */
final readonly class CarryMovement implements Change
{
    private function __construct(private Moving $moving, private Moving $to, private bool $copy, private bool $inValues)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(Moving::from($fields), Moving::from($fields, 'to'), $fields->has('copy') && $fields->flag('copy'), $fields->has('values') && $fields->flag('values'));
    }

    public function apply(Beat $beat): Beat
    {
        $movement = $this->moving->there($beat);
        $points = $this->moving->scope === $this->to->scope && $this->moving->of === $this->to->of ? $movement->curve->points : $this->placed($beat, $movement->curve);
        [$from, $to] = [$this->moving->setting($beat)->parameter, $this->to->setting($beat)->parameter];
        if ($this->moving->path !== $this->to->path) {
            $points = array_map(fn (array $p): array => [$p[0], max($to->least, min($to->most, $this->inValues ? $p[1] : $to->at($from->share($p[1])))), $p[2]], $points);
        }
        $after = $this->to->moved($beat, $points, $movement->smoothMs, $movement->on);

        return $this->copy ? $after : $after->with(['movements' => $after->movements->without($this->moving->id())]);
    }

    /** @return list<array{float, float, float}> in the time of where it goes */
    private function placed(Beat $beat, Curve $curve): array
    {
        $ours = Scope::Song === $this->moving->scope ? [[0, \PHP_INT_MAX >> 8, 0]] : Passage::comings($beat, $this->moving->scope, $this->moving->of);
        $theirs = Scope::Song === $this->to->scope ? [] : Passage::comings($beat, $this->to->scope, $this->to->of);
        if (Scope::Song !== $this->to->scope) {
            $first = $theirs[0] ?? throw new InvalidChange('That is not in the song yet: nothing lies over it.');

            return Scope::Song === $this->moving->scope ? $curve->piece($first[0], $first[0] + $first[1]) : $curve->points;
        }
        $set = $this->moving->setting($beat)->value;
        $points = [[0.0, is_numeric($set) ? (float) $set : 0.0, 1.0]];
        foreach ($ours as [$at, $ticks]) {
            foreach ($curve->piece(0.0, $ticks) as [$tick, $value, $bend]) {
                $points[] = [$at + $tick, $value, $bend];
            }
            // Beside them it is as it is set.
            $points[] = [(float) ($at + $ticks), $points[0][1], 1.0];
        }

        return $points;
    }

    public function label(Beat $beat): string
    {
        return $this->moving->path === $this->to->path ? $this->moving->words($beat).' belongs elsewhere' : \sprintf('%s moves as %s', $this->to->words($beat), lcfirst($this->moving->words($beat)));
    }

    public function touches(): array
    {
        return [...$this->moving->touches(), ...$this->to->touches()];
    }
}
