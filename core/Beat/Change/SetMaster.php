<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Master;

/** Sets the master's gain or its ceiling. */
final readonly class SetMaster implements Change
{
    /** @param non-empty-array<string, float> $settings */
    private function __construct(private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        if ($fields->has('gainDb')) {
            $settings['gainDb'] = $fields->number('gainDb', Master::MIN_GAIN_DB, Master::MAX_GAIN_DB);
        }
        if ($fields->has('ceilingDb')) {
            $settings['ceilingDb'] = $fields->number('ceilingDb', Master::MIN_CEILING_DB, Master::MAX_CEILING_DB);
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($settings);
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->withMixer($beat->mixer->withMaster($beat->mixer->master->with($this->settings)));
    }

    public function label(Beat $beat): string
    {
        return isset($this->settings['gainDb']) ? 'Gain of the master' : 'Ceiling of the master';
    }

    public function touches(): array
    {
        return array_map(static fn (string $field): string => 'mixer/master/'.$field, array_keys($this->settings));
    }
}
