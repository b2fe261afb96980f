<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;

/** Puts a line of the mixer one place further up or down among those of its kind: a matter of looking only. */
final readonly class MoveLine implements Change
{
    private function __construct(private string $node, private int $by)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'), $fields->whole('by', -1, 1));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->withMixer($beat->mixer->moved($beat->channel($this->node)->id, $this->by));
    }

    public function label(Beat $beat): string
    {
        return $beat->channel($this->node)->name.($this->by < 0 ? ' further up' : ' further down');
    }

    public function touches(): array
    {
        return ['mixer'];
    }
}
