<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\Master;

/** Sets the master's gain, the place of that, or its ceiling. */
final readonly class SetMaster implements Change
{
    /** @param non-empty-array<string, float|FaderPlace> $settings */
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
        if ($fields->has('fader')) {
            $settings['fader'] = $fields->choice('fader', FaderPlace::class);
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
        return ['gainDb' => 'Gain', 'ceilingDb' => 'Ceiling', 'fader' => 'Place of the gain'][array_key_first($this->settings)].' of the master';
    }

    public function touches(): array
    {
        return array_map(static fn (string $field): string => 'mixer/master/'.$field, array_keys($this->settings));
    }
}
