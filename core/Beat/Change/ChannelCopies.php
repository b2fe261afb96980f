<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\NodeKind;

/** Channels for copies of pads: those that shared one share its copy. */
final class ChannelCopies
{
    /** @var array<string, string> by what they are copies of */
    private array $copies = [];

    public function __construct(public Beat $beat)
    {
    }

    /** A pad at another place, on the copy of its channel, which the beat gets where it is the first. */
    public function at(Pad $pad, string $place): Pad
    {
        if (!isset($this->copies[$pad->channel])) {
            $channel = $this->beat->channel($pad->channel)->with(['id' => $this->beat->mixer->nextId(NodeKind::Channel)]);
            $this->beat = $this->beat->withMixer($this->beat->mixer->with($channel));
            $this->copies[$pad->channel] = $channel->id;
        }

        return $pad->with(['id' => $place, 'channel' => $this->copies[$pad->channel]]);
    }
}
