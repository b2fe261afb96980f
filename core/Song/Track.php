<?php

namespace Pestle\Core\Song;

/** A row of the line of time on which sounds are placed freely. It feeds a channel of the mixer. */
final readonly class Track
{
    public const MOST = 48;
    /** Its id begins so: it is the name of a source beside pads and parts. */
    public const ID = 'track-';

    public function __construct(public string $id, public string $name, public string $channel)
    {
        if (!str_starts_with($id, self::ID)) {
            throw new \InvalidArgumentException(\sprintf('The id of a track begins with "%s".', self::ID));
        }
    }

    public function named(string $name): self
    {
        return new self($this->id, $name, $this->channel);
    }

    /** @return array<string, string> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'name' => $this->name, 'channel' => $this->channel];
    }
}
