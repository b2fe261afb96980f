<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Song\Track;

/** Adds a track to the line of time, with a channel of its own. */
final readonly class AddTrack implements Change
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
        return self::to($beat, $this->id, $this->name);
    }

    /** @throws InvalidChange */
    public static function to(Beat $beat, string $id, string $name): Beat
    {
        if (isset($beat->tracks[$id])) {
            throw new InvalidChange('A track with this id is in the beat already.');
        }
        $channel = Node::channel($beat->mixer->nextId(NodeKind::Channel), $name);

        return $beat->withMixer($beat->mixer->with($channel))->with(['tracks' => array_replace($beat->tracks, [$id => new Track($id, $name, $channel->id)])]);
    }

    public function label(Beat $beat): string
    {
        return 'New track '.$this->name;
    }

    public function touches(): array
    {
        return ['track/'.$this->id, 'mixer/new'];
    }
}
