<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
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
            $pad = new Pad($p->id('id'), $p->text('name'), $p->choice('role', Role::class), $p->hash('sample'), $p->frame('start'), $p->frame('end', 1), $p->id('channel'));
            $pads[$pad->id] = $pad->with([...$p->settings(Pad::parameters()), 'layers' => $p->has('layers') ? self::layers($p) : []]);
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
        $keys = new Keys($k->hash('sample'), $k->frame('start'), $k->frame('end', 1), $k->whole('rootCents', 0, 100 * Note::MAX_PITCH), $k->id('channel'));

        return $keys->with([...$k->settings(Keys::parameters()), 'loopStart' => $k->has('loopStart') ? $k->frame('loopStart') : null, 'loopEnd' => $k->has('loopEnd') ? $k->frame('loopEnd', 1) : null]);
    }
}
