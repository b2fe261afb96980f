<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\Snapshot;
use Pestle\Core\Song\Movement;

/** Keeps the mix as it is now, under a name; where there is one of this id it takes its place. */
final readonly class KeepMix implements Change
{
    private function __construct(private string $id, private string $name)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'), $fields->text('name'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['snapshots' => array_replace($beat->snapshots, [$this->id => new Snapshot($this->id, $this->name, $beat->mixer, $beat->movements->only(static fn (Movement $m): bool => $m->movesMixer()))])]);
    }

    public function label(Beat $beat): string
    {
        return 'Mix kept as '.$this->name;
    }

    public function touches(): array
    {
        return ['snapshots/'.$this->id];
    }
}
