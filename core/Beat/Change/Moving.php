<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Setting;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;

/** Which movement a change is about: of what parameter, and where it belongs. */
final readonly class Moving
{
    public function __construct(public string $path, public Scope $scope, public string $of)
    {
    }

    /** @param string $prefix before "path", "scope" and "of", where there are two of them */
    public static function from(Fields $fields, string $prefix = ''): self
    {
        $name = static fn (string $field): string => '' === $prefix ? $field : $prefix.ucfirst($field);
        $scope = $fields->has($name('scope')) ? $fields->choice($name('scope'), Scope::class) : Scope::Song;

        return new self($fields->text($name('path'), 200), $scope, Scope::Song === $scope ? '' : $fields->id($name('of')));
    }

    public function id(): string
    {
        return Movement::key($this->scope, $this->of, $this->path);
    }

    public function in(Beat $beat): ?Movement
    {
        return $beat->movements->find($this->scope, $this->of, $this->path);
    }

    /** @throws InvalidChange when it does not move */
    public function there(Beat $beat): Movement
    {
        return $this->in($beat) ?? throw new InvalidChange(\sprintf('%s does not move there any more.', $this->words($beat)));
    }

    /** As it moves, or else as it is set. */
    public function curve(Beat $beat): Curve
    {
        $set = $this->setting($beat)->value;

        return $this->in($beat)->curve ?? new Curve([[0.0, is_numeric($set) ? (float) $set : 0.0, 0.0]]);
    }

    /**
     * The beat in which it moves so.
     *
     * @param list<array{float, float, float}> $points
     *
     * @throws InvalidChange when it cannot move, where it belongs is gone, or a value lies outside
     */
    public function moved(Beat $beat, array $points, ?float $smoothMs = null, ?bool $on = null): Beat
    {
        $this->ticks($beat);
        $parameter = $this->setting($beat)->parameter;
        if (!$parameter->moves) {
            throw new InvalidChange(\sprintf('%s cannot move: %s', $parameter->name, $parameter->whyNot()));
        }
        if (Movement::TEMPO === $this->path && Scope::Pattern === $this->scope) {
            throw new InvalidChange('A pattern keeps to the tempo of what it is played in: let that move in a section or over the song.');
        }
        foreach ($points as [, $value]) {
            if ($value < $parameter->least || $value > $parameter->most) {
                throw InvalidChange::field('points', \sprintf('must lie between %s and %s.', $parameter->show($parameter->least), $parameter->show($parameter->most)));
            }
        }
        $is = $this->in($beat);
        $curve = [] === $points ? throw InvalidChange::field('points', 'must hold at least one point.') : new Curve($points);

        return $beat->with(['movements' => $beat->movements->with(new Movement($this->path, $this->scope, $this->of, $curve, $smoothMs ?? $is->smoothMs ?? Movement::LEAST_SMOOTH_MS, $on ?? $is->on ?? true))]);
    }

    /** How long what it belongs to goes once, in ticks; 0 for the song, which has no end of its own. */
    public function ticks(Beat $beat): int
    {
        return match ($this->scope) {
            Scope::Song => 0,
            Scope::Section => $beat->section($this->of)->loopTicks($beat->patterns, $beat->meter),
            Scope::Pattern => $beat->pattern($this->of)->ticks,
        };
    }

    public function setting(Beat $beat): Setting
    {
        return Parameters::at($beat, $this->path);
    }

    public function words(Beat $beat): string
    {
        $setting = $this->setting($beat);

        return $setting->parameter->name.' of '.$setting->owner;
    }

    /** @return list<string> */
    public function touches(): array
    {
        return ['movement/'.$this->id(), $this->path];
    }
}
