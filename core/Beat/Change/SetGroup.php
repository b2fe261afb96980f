<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Channel;

/** Sets a group's level or mute. */
final readonly class SetGroup implements Change
{
    private function __construct(private string $group, private ?float $gainDb, private ?bool $mute)
    {
    }

    public static function from(Fields $fields): self
    {
        $gain = $fields->has('gainDb') ? $fields->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB) : null;
        $mute = null === $gain ? $fields->flag('mute') : null;

        return new self($fields->id('group'), $gain, $mute);
    }

    public function apply(Beat $beat): Beat
    {
        $group = $beat->mixer->groups[$this->group] ?? throw InvalidChange::field('group', 'must be a group of this beat.');
        $settings = array_filter(['gainDb' => $this->gainDb, 'mute' => $this->mute], static fn (mixed $v): bool => null !== $v);

        return $beat->withMixer($beat->mixer->withGroup($group->with($settings)));
    }

    public function label(Beat $beat): string
    {
        return (null === $this->mute ? 'Level of ' : 'Mute of ').($beat->mixer->groups[$this->group]->name ?? 'group');
    }

    public function touches(): array
    {
        return ['mixer/'.$this->group.'/'.(null === $this->mute ? 'gain' : 'mute')];
    }
}
