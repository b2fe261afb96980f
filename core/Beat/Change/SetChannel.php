<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Channel;

/** Sets a channel's name, level, pan, mute, solo or group. */
final readonly class SetChannel implements Change
{
    private const LABELS = ['name' => 'Name', 'gainDb' => 'Level', 'pan' => 'Pan', 'mute' => 'Mute', 'solo' => 'Solo', 'group' => 'Group'];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $channel, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach (array_intersect($fields->keys(), array_keys(self::LABELS)) as $field) {
            $settings[$field] = match ($field) {
                'name' => $fields->text('name'),
                'gainDb' => $fields->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB),
                'pan' => $fields->number('pan', -1, 1),
                'group' => $fields->has('group') ? $fields->id('group') : null,
                default => $fields->flag($field),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('channel'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $group = $this->settings['group'] ?? null;
        if (\is_string($group) && !isset($beat->mixer->groups[$group])) {
            throw InvalidChange::field('group', 'must be a group of this beat.');
        }

        return $beat->withMixer($beat->mixer->withChannel($beat->channel($this->channel)->with($this->settings)));
    }

    public function label(Beat $beat): string
    {
        return self::LABELS[array_key_first($this->settings)].' of '.$beat->channel($this->channel)->name;
    }

    public function touches(): array
    {
        return array_map(fn (string $field): string => 'mixer/'.$this->channel.'/'.$field, array_keys($this->settings));
    }
}
