<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\NodeKind;

/** Removes a group or a return: what went into it goes on to where it went, what was sent there is sent there no more. */
final readonly class RemoveNode implements Change
{
    private function __construct(private string $node)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('node'));
    }

    public function apply(Beat $beat): Beat
    {
        if (NodeKind::Channel === $beat->channel($this->node)->kind) {
            throw InvalidChange::field('node', 'is a channel: it goes with the last sound that feeds it.');
        }

        return $beat->withMixer($beat->mixer->without($this->node));
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.$beat->channel($this->node)->name;
    }

    public function touches(): array
    {
        return ['mixer'];
    }
}
