<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\CompressorSettings;

/** Sets the compressor of a channel, a group or the master, whole. */
final readonly class SetCompressor implements Change
{
    private function __construct(private string $target, private CompressorSettings $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $values = ['on' => $fields->flag('on')];
        foreach (CompressorSettings::RANGES as $field => [$least, $most]) {
            $values[$field] = $fields->number($field, $least, $most);
        }

        return new self($fields->id('target'), new CompressorSettings(...$values));
    }

    public function apply(Beat $beat): Beat
    {
        $mixer = $beat->mixer;
        $set = ['compressor' => $this->settings];

        return $beat->withMixer(match (true) {
            'master' === $this->target => $mixer->withMaster($mixer->master->with($set)),
            isset($mixer->groups[$this->target]) => $mixer->withGroup($mixer->groups[$this->target]->with($set)),
            isset($mixer->channels[$this->target]) => $mixer->withChannel($mixer->channels[$this->target]->with($set)),
            default => throw InvalidChange::field('target', 'must be a channel, a group or the master.'),
        });
    }

    public function label(Beat $beat): string
    {
        $name = $beat->mixer->channels[$this->target]->name ?? $beat->mixer->groups[$this->target]->name ?? 'the master';

        return 'Compressor of '.$name;
    }

    public function touches(): array
    {
        return ['mixer/'.$this->target.'/compressor'];
    }
}
