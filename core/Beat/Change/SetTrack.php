<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

/** Names a track. */
final readonly class SetTrack implements Change
{
    private function __construct(private string $track, private string $name)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('track'), $fields->text('name'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['tracks' => array_replace($beat->tracks, [$this->track => $beat->track($this->track)->named($this->name)])]);
    }

    public function label(Beat $beat): string
    {
        return 'Name of '.$beat->track($this->track)->name;
    }

    public function touches(): array
    {
        return ['track/'.$this->track];
    }
}
