<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Note;

/** Banks, pads and keys as arrays and back. */
final class KitCodec
{
    /** @return array<string, mixed> */
    public static function toArray(Kit $kit): array
    {
        return [
            'banks' => array_map(static fn (Bank $b): array => ['id' => $b->id, 'name' => $b->name, 'part' => $b->part], $kit->banks),
            'pads' => array_map(static fn (Pad $p): array => $p->toArray(), array_values($kit->pads)),
        ];
    }

    /** @throws InvalidChange */
    public static function read(Fields $kit): Kit
    {
        $banks = array_map(static fn (Fields $b): Bank => new Bank($b->id('id'), $b->text('name'), $b->id('part')), $kit->rows('banks', Kit::MAX_BANKS));
        if ([] === $banks) {
            throw InvalidChange::field('banks', 'must hold at least one bank.');
        }
        $pads = [];
        foreach ($kit->rows('pads', Kit::MAX_BANKS * Bank::SIZE) as $p) {
            $pads[$p->id('id')] = new Pad(
                $p->id('id'),
                $p->text('name'),
                $p->choice('role', Role::class),
                $p->hash('sample'),
                $p->frame('start'),
                $p->frame('end', 1),
                $p->id('channel'),
                $p->number('levelDb', Pad::MIN_LEVEL_DB, Pad::MAX_LEVEL_DB),
                $p->number('pan', -1, 1),
                $p->whole('tuneCents', -Pad::MAX_TUNE_CENTS, Pad::MAX_TUNE_CENTS),
                $p->choice('mode', PlayMode::class),
                $p->whole('choke', 0, Pad::CHOKE_GROUPS),
                $p->has('reversed') && $p->flag('reversed'),
                $p->has('layers') ? self::layers($p) : [],
                $p->has('answer') ? $p->choice('answer', Answer::class) : Answer::All,
            );
        }

        return Kit::of($banks, $pads);
    }

    /** @return list<Layer> */
    private static function layers(Fields $pad): array
    {
        return array_map(
            static fn (Fields $l): Layer => new Layer($l->text('name'), $l->hash('sample'), $l->frame('start'), $l->frame('end', $l->frame('start') + 1)),
            $pad->rows('layers', Pad::MAX_LAYERS),
        );
    }

    /** @throws InvalidChange */
    public static function keys(Fields $k): Keys
    {
        return new Keys(
            $k->hash('sample'),
            $k->frame('start'),
            $k->frame('end', 1),
            $k->whole('rootCents', 0, 100 * Note::MAX_PITCH),
            $k->id('channel'),
            $k->flag('single'),
            $k->flag('held'),
            $k->whole('releaseMs', 0, Keys::MAX_RELEASE_MS),
            $k->number('levelDb', Keys::MIN_LEVEL_DB, Keys::MAX_LEVEL_DB),
            $k->whole('low', 0, Note::MAX_PITCH),
            $k->whole('high', 0, Note::MAX_PITCH),
            $k->has('glideMs') ? $k->whole('glideMs', 0, Keys::MAX_GLIDE_MS) : 0,
            $k->has('loopStart') ? $k->frame('loopStart') : null,
            $k->has('loopEnd') ? $k->frame('loopEnd', 1) : null,
        );
    }
}
