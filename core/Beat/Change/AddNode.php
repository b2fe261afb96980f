<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;

/** Adds a group or a return; with "from", a line that goes into the group, or is sent to the return. */
final readonly class AddNode implements Change
{
    private function __construct(private NodeKind $kind, private string $id, private string $name, private ?string $from)
    {
    }

    public static function from(Fields $fields): self
    {
        $kind = $fields->choice('kind', NodeKind::class);
        if (NodeKind::Channel === $kind) {
            throw InvalidChange::field('kind', 'must be group or return: a channel comes with the sound that feeds it.');
        }

        return new self($kind, $fields->id('id'), $fields->text('name'), $fields->has('from') ? $fields->id('from') : null);
    }

    public function apply(Beat $beat): Beat
    {
        if (null !== $beat->mixer->line($this->id)) {
            throw new InvalidChange('A line of the mixer with this id is in the beat already.');
        }
        $node = NodeKind::Group === $this->kind ? Node::group($this->id, $this->name) : Node::aReturn($this->id, $this->name);
        $beat = $beat->withMixer($beat->mixer->with($node));

        return match (true) {
            null === $this->from => $beat,
            NodeKind::Group === $this->kind => $beat->withMixer($beat->mixer->with($beat->channel($this->from)->with(['output' => $this->id]))),
            default => AddSend::between($beat, $this->from, $this->id),
        };
    }

    public function label(Beat $beat): string
    {
        return 'New '.$this->kind->value.' '.$this->name;
    }

    public function touches(): array
    {
        return ['mixer/'.$this->id, ...null === $this->from ? [] : ['mixer/'.$this->from]];
    }
}
