<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Blend;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\RoutedBy;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\Zone;

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
            $pad = self::pad($p);
            $pads[$pad->id] = $pad;
        }

        return Kit::of($banks, $pads);
    }

    /** @throws InvalidChange */
    public static function pad(Fields $p): Pad
    {
        $layers = array_map(self::layer(...), $p->rows('layers', Pad::MAX_LAYERS));
        if ([] === $layers) {
            throw InvalidChange::field('layers', 'must hold at least one sound.');
        }
        $pad = new Pad($p->id('id'), $p->text('name'), $p->choice('role', Role::class), $p->id('channel'), $layers);

        return $pad->with([
            ...$p->settings(Pad::parameters()),
            'layers' => $layers,
            'along' => self::others($p, 'along'),
            'silences' => self::others($p, 'silences'),
            'colour' => $p->has('colour') ? $p->id('colour') : null,
            'treatment' => self::treatment($p),
        ]);
    }

    /** @throws InvalidChange */
    public static function layer(Fields $l): Layer
    {
        $layer = new Layer($l->text('name'), $l->hash('sample'), $l->frame('start'), $l->frame('end', $l->frame('start') + 1));

        return $layer->with([...$l->settings(Layer::parameters()), ...self::loop($l), 'kept' => self::kept($l)]);
    }

    /** @return array<string, string> */
    private static function kept(Fields $f): array
    {
        $kept = [];
        foreach ($f->has('kept') ? \array_slice($f->nested('kept')->keys(), 0, Layer::MOST_KEPT) : [] as $name) {
            $kept[$name] = $f->nested('kept')->text($name, Layer::LONGEST_KEPT);
        }

        return $kept;
    }

    /** @return array{loopStart: int|null, loopEnd: int|null} */
    public static function loop(Fields $f): array
    {
        return ['loopStart' => $f->has('loopStart') ? $f->frame('loopStart') : null, 'loopEnd' => $f->has('loopEnd') ? $f->frame('loopEnd', 1) : null];
    }

    /**
     * Pads, and notes of instruments as "part-2/60".
     *
     * @return list<string>
     *
     * @throws InvalidChange
     */
    public static function others(Fields $f, string $field): array
    {
        $others = $f->texts($field, Pad::MAX_OTHERS);
        foreach ($others as $other) {
            if (!preg_match('~^(?:[a-z]{1,2}\d{1,2}|part-\d{1,3}/\d{1,3})$~', $other)) {
                throw InvalidChange::field($field, 'must name pads, or notes of instruments as part-2/60.');
            }
        }

        return array_values(array_unique($others));
    }

    private static function treatment(Fields $f): Treatment
    {
        $treatment = new Treatment();
        $said = $f->nested('treatment');
        foreach (array_intersect($said->keys(), array_keys($treatment->parts())) as $path) {
            $part = $treatment->parts()[$path];
            $treatment = $treatment->withPart($path, $part->with($said->nested($path)->settings($part::parameters())));
        }

        return $treatment;
    }

    /**
     * @return list<Wave>
     *
     * @throws InvalidChange
     */
    public static function waves(Fields $k): array
    {
        return array_map(static function (Fields $w): Wave {
            $partials = $w->has('partials') ? $w->numbers('partials', Wave::MOST_PARTIALS, -1.0, 1.0) : [];

            return (new Wave())->with([...$w->settings(Wave::parameters()), ...[] === $partials ? [] : ['partials' => $partials]]);
        }, $k->rows('waves', Wave::MOST));
    }

    /** @throws InvalidChange */
    public static function keys(Fields $k): Keys
    {
        $stack = $k->has('stack') ? array_map(self::single(...), $k->rows('stack', Keys::MOST_STACKED - 1)) : [];

        return [] === $stack ? self::single($k) : self::single($k)->with(['stack' => $stack]);
    }

    /** @throws InvalidChange */
    private static function single(Fields $k): Keys
    {
        $zones = array_map(static fn (Fields $z): Zone => (new Zone(self::layer($z), 6000))->with($z->settings(Zone::parameters())), $k->rows('zones', Keys::MAX_ZONES));
        $waves = $k->has('waves') ? self::waves($k) : [];
        if ([] === $zones && [] === $waves) {
            throw InvalidChange::field('zones', 'must hold at least one recorded note, where no waves are given.');
        }

        return (new Keys($zones, $k->id('channel'), waves: $waves))->with([
            ...$k->settings(Keys::parameters()),
            'treatment' => self::treatment($k),
            'blend' => $k->has('blend') ? (new Blend())->with($k->nested('blend')->settings(Blend::parameters())) : new Blend(),
            'name' => $k->has('name') ? $k->text('name') : '',
            'routes' => $k->has('routes') ? self::routes($k) : [],
        ]);
    }

    /**
     * @return list<Route>
     *
     * @throws InvalidChange
     */
    public static function routes(Fields $k): array
    {
        return array_map(static fn (Fields $r): Route => new Route($r->choice('by', RoutedBy::class), $r->text('to'), $r->number('amount', -1.0, 1.0)), $k->rows('routes', Route::MOST));
    }
}
