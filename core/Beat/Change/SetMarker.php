<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\SongCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Song\Marker;

/** Puts a marker into the song, moves it, or names it. */
final readonly class SetMarker implements Change
{
    private function __construct(private Marker $marker)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(SongCodec::marker($fields));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['markers' => array_replace($beat->markers, [$this->marker->id => $this->marker])]);
    }

    public function label(Beat $beat): string
    {
        $before = $beat->markers[$this->marker->id] ?? null;

        return match (true) {
            null === $before => 'Marker '.$this->marker->name,
            $before->name !== $this->marker->name => 'Name of '.$before->name,
            default => 'Move '.$before->name,
        };
    }

    public function touches(): array
    {
        return ['marker/'.$this->marker->id];
    }
}
