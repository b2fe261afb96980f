<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\Snapshot;

/** Names a mix that is kept anew, or keeps it no longer. */
final readonly class SetSnapshot implements Change
{
    /** @param string|null $name null to keep it no longer */
    private function __construct(private string $id, private ?string $name)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('id'), $fields->has('name') ? $fields->text('name') : null);
    }

    public function apply(Beat $beat): Beat
    {
        $kept = $beat->snapshot($this->id);
        $named = null === $this->name ? [] : [$this->id => new Snapshot($this->id, $this->name, $kept->mixer, $kept->movements)];

        return $beat->with(['snapshots' => null === $this->name ? array_diff_key($beat->snapshots, [$this->id => true]) : array_replace($beat->snapshots, $named)]);
    }

    public function label(Beat $beat): string
    {
        $kept = $beat->snapshot($this->id)->name;

        return null === $this->name ? $kept.' kept no longer' : 'Name of '.$kept;
    }

    public function touches(): array
    {
        return ['snapshots/'.$this->id];
    }
}
