<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\FaderPlace;
use Pestle\Core\Mix\Group;
use Pestle\Core\Mix\Master;
use Pestle\Core\Mix\Mixer;

/** The mixer as arrays and back. */
final class MixerCodec
{
    /** @return array<string, mixed> */
    public static function toArray(Mixer $mixer): array
    {
        return [
            'channels' => array_map(static fn (Channel $c): array => $c->toArray(), array_values($mixer->channels)),
            'groups' => array_map(static fn (Group $g): array => $g->toArray(), array_values($mixer->groups)),
            'master' => $mixer->master->toArray(),
        ];
    }

    /** @throws InvalidChange */
    public static function read(Fields $mixer): Mixer
    {
        $channels = $groups = [];
        foreach ($mixer->rows('channels', Mixer::MAX_CHANNELS) as $c) {
            $bands = array_map(static fn (Fields $b): EqBand => new EqBand(
                $b->choice('shape', EqShape::class),
                $b->number('hz', EqBand::MIN_HZ, EqBand::MAX_HZ),
                $b->number('gainDb', -EqBand::MAX_GAIN_DB, EqBand::MAX_GAIN_DB),
                $b->number('q', EqBand::MIN_Q, EqBand::MAX_Q),
                $b->flag('on'),
            ), $c->rows('eq', 8));
            $channels[$c->id('id')] = new Channel(
                $c->id('id'),
                $c->text('name'),
                $c->has('group') ? $c->id('group') : null,
                $c->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB),
                $c->number('pan', -1, 1),
                $c->flag('mute'),
                $c->flag('solo'),
                $bands,
                self::compressor($c->nested('compressor')),
            );
        }
        foreach ($mixer->rows('groups', 50) as $g) {
            $groups[$g->id('id')] = new Group(
                $g->id('id'),
                $g->text('name'),
                $g->number('gainDb', Channel::MIN_GAIN_DB, Channel::MAX_GAIN_DB),
                $g->flag('mute'),
                self::compressor($g->nested('compressor')),
                $g->choice('fader', FaderPlace::class),
            );
        }
        $m = $mixer->nested('master');

        return new Mixer($channels, $groups, new Master(
            $m->number('gainDb', Master::MIN_GAIN_DB, Master::MAX_GAIN_DB),
            $m->number('ceilingDb', Master::MIN_CEILING_DB, Master::MAX_CEILING_DB),
            self::compressor($m->nested('compressor')),
            $m->choice('fader', FaderPlace::class),
        ));
    }

    private static function compressor(Fields $c): CompressorSettings
    {
        $values = ['on' => $c->flag('on')];
        foreach (CompressorSettings::RANGES as $field => [$least, $most]) {
            $values[$field] = $c->number($field, $least, $most);
        }

        return new CompressorSettings(...$values);
    }
}
