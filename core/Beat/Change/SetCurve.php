<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Theory\Curve;

/** Lets a parameter move over the song; without points it stays as it is set. */
final readonly class SetCurve implements Change
{
    private function __construct(private string $path, private ?Curve $curve)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->text('path', 200), [] === $fields->rows('points', Curve::MOST_POINTS) ? null : SongCodec::curve($fields, 'points'));
    }

    public function apply(Beat $beat): Beat
    {
        if (null === $this->curve) {
            return $beat->with(['curves' => array_diff_key($beat->curves, [$this->path => true])]);
        }
        $parameter = Parameters::at($beat, $this->path)->parameter;
        if (!$parameter->moves) {
            throw new InvalidChange(\sprintf('%s cannot move over the song.', $parameter->name));
        }
        foreach ($this->curve->points as [, $value]) {
            if ($value < $parameter->least || $value > $parameter->most) {
                throw InvalidChange::field('points', \sprintf('must lie between %s and %s.', $parameter->show($parameter->least), $parameter->show($parameter->most)));
            }
        }

        return $beat->with(['curves' => array_replace($beat->curves, [$this->path => $this->curve])]);
    }

    public function label(Beat $beat): string
    {
        $setting = Parameters::at($beat, $this->path);

        return \sprintf('%s of %s %s', $setting->parameter->name, $setting->owner, null === $this->curve ? 'stays' : 'moves');
    }

    public function touches(): array
    {
        return ['curve/'.$this->path, $this->path];
    }
}
