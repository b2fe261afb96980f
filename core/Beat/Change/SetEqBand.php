<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;

/** Sets one band of a channel's equalizer, whole. */
final readonly class SetEqBand implements Change
{
    private function __construct(private string $channel, private int $band, private EqBand $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('channel'), $fields->whole('band', 1, 4), new EqBand(
            $fields->choice('shape', EqShape::class),
            $fields->number('hz', EqBand::MIN_HZ, EqBand::MAX_HZ),
            $fields->number('gainDb', -EqBand::MAX_GAIN_DB, EqBand::MAX_GAIN_DB),
            $fields->number('q', EqBand::MIN_Q, EqBand::MAX_Q),
            $fields->flag('on'),
        ));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->withMixer($beat->mixer->withChannel($beat->channel($this->channel)->withBand($this->band - 1, $this->settings)));
    }

    public function label(Beat $beat): string
    {
        return 'EQ of '.$beat->channel($this->channel)->name;
    }

    public function touches(): array
    {
        return ['mixer/'.$this->channel.'/eq'.$this->band];
    }
}
