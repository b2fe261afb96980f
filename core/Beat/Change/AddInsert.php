<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\InsertKind;

/** Adds an insert to a line, behind those it has. */
final readonly class AddInsert implements Change
{
    private function __construct(private string $node, private InsertKind $kind)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->choice('kind', InsertKind::class));
    }

    public function apply(Beat $beat): Beat
    {
        $line = $beat->line($this->node);

        return $beat->withMixer($beat->mixer->withLine($line->followedBy($this->kind->fresh('new'))));
    }

    public function label(Beat $beat): string
    {
        return $this->kind->label().' on '.$beat->nameOf($this->node);
    }

    public function touches(): array
    {
        return ['mixer/'.$this->node.'/inserts'];
    }
}
