<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\FaderPlace;

/** Sets a group's level, the place of its fader, or mute. */
final readonly class SetGroup implements Change
{
    private function __construct(private string $group, private float|bool|FaderPlace $value, private string $field)
    {
    }

    public static function from(Fields $fields): self
    {
        return match (true) {
            $fields->has('gainDb') => new self($fields->id('group'), $fields->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB), 'gainDb'),
            $fields->has('fader') => new self($fields->id('group'), $fields->choice('fader', FaderPlace::class), 'fader'),
            default => new self($fields->id('group'), $fields->flag('mute'), 'mute'),
        };
    }

    public function apply(Beat $beat): Beat
    {
        $group = $beat->mixer->groups[$this->group] ?? throw InvalidChange::field('group', 'must be a group of this beat.');

        return $beat->withMixer($beat->mixer->withGroup($group->with([$this->field => $this->value])));
    }

    public function label(Beat $beat): string
    {
        return ['gainDb' => 'Level of ', 'fader' => 'Place of the level of ', 'mute' => 'Mute of '][$this->field].($beat->mixer->groups[$this->group]->name ?? 'group');
    }

    public function touches(): array
    {
        return ['mixer/'.$this->group.'/'.$this->field];
    }
}
