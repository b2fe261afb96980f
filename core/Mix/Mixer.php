<?php

namespace Pestle\Core\Mix;

/** Channels, groups and the master. */
final readonly class Mixer
{
    public const MAX_CHANNELS = 640;

    /**
     * @param array<string, Channel> $channels by id, in order
     * @param array<string, Group>   $groups   by id
     */
    public function __construct(public array $channels, public array $groups, public Master $master)
    {
        if (\count($channels) > self::MAX_CHANNELS) {
            throw new \InvalidArgumentException(\sprintf('A beat has at most %d channels: clear pads first.', self::MAX_CHANNELS));
        }
    }

    public static function empty(): self
    {
        return new self([], [Group::DRUMS => new Group(Group::DRUMS, 'Drums')], new Master());
    }

    public function withChannel(Channel $channel): self
    {
        return new self([...$this->channels, $channel->id => $channel], $this->groups, $this->master);
    }

    public function withoutChannel(string $id): self
    {
        return new self(array_diff_key($this->channels, [$id => true]), $this->groups, $this->master);
    }

    public function withGroup(Group $group): self
    {
        return new self($this->channels, [...$this->groups, $group->id => $group], $this->master);
    }

    public function withMaster(Master $master): self
    {
        return new self($this->channels, $this->groups, $master);
    }

    /** Whether a channel is heard, given mutes and solos. */
    public function isHeard(Channel $channel): bool
    {
        if ($channel->mute || (null !== $channel->group && ($this->groups[$channel->group]->mute ?? false))) {
            return false;
        }

        return $channel->solo || !$this->hasSolo();
    }

    public function hasSolo(): bool
    {
        foreach ($this->channels as $channel) {
            if ($channel->solo) {
                return true;
            }
        }

        return false;
    }

    public function nextChannelId(): string
    {
        $n = 1;
        while (isset($this->channels['c'.$n])) {
            ++$n;
        }

        return 'c'.$n;
    }
}
