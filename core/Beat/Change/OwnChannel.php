<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\NodeKind;

/** Gives a pad a channel of its own, set as the one it shared: what is inserted there acts on this pad alone. */
final readonly class OwnChannel implements Change
{
    private function __construct(private string $pad)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'));
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        $channel = $beat->channel($pad->channel)->with(['id' => $beat->mixer->nextId(NodeKind::Channel), 'name' => $pad->name]);

        return $beat->withMixer($beat->mixer->with($channel))->withKit($beat->kit->withPad($pad->with(['channel' => $channel->id])))->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return 'A channel for '.$beat->pad($this->pad)->name.' alone';
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad, 'mixer'];
    }
}
