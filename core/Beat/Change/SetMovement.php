<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;

/** Lets a parameter move over the song, a section or with a pattern; without points it stays as it is set. */
final readonly class SetMovement implements Change
{
    /** @param Movement|null $movement null where it is to stay */
    private function __construct(private string $path, private Scope $scope, private string $of, private ?Movement $movement)
    {
    }

    public static function from(Fields $fields): self
    {
        $scope = $fields->has('scope') ? $fields->choice('scope', Scope::class) : Scope::Song;
        $stays = [] === $fields->rows('points', Curve::MOST_POINTS);

        return new self($fields->text('path', 200), $scope, Scope::Song === $scope ? '' : $fields->id('of'), $stays ? null : SongCodec::movement($fields->with('scope', $scope->value)));
    }

    public function apply(Beat $beat): Beat
    {
        if (null === $this->movement) {
            return $beat->with(['movements' => $beat->movements->without(Movement::key($this->scope, $this->of, $this->path))]);
        }
        match ($this->scope) {
            Scope::Song => null,
            Scope::Section => $beat->section($this->of),
            Scope::Pattern => $beat->pattern($this->of),
        };
        $parameter = Parameters::at($beat, $this->path)->parameter;
        if (!$parameter->moves) {
            throw new InvalidChange(\sprintf('%s cannot move: %s', $parameter->name, $parameter->whyNot()));
        }
        foreach ($this->movement->curve->points as [, $value]) {
            if ($value < $parameter->least || $value > $parameter->most) {
                throw InvalidChange::field('points', \sprintf('must lie between %s and %s.', $parameter->show($parameter->least), $parameter->show($parameter->most)));
            }
        }

        return $beat->with(['movements' => $beat->movements->with($this->movement)]);
    }

    public function label(Beat $beat): string
    {
        $setting = Parameters::at($beat, $this->path);

        return \sprintf('%s of %s %s', $setting->parameter->name, $setting->owner, null === $this->movement ? 'stays' : 'moves');
    }

    public function touches(): array
    {
        return ['movement/'.Movement::key($this->scope, $this->of, $this->path), $this->path];
    }
}
