<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\WholeKit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Scope;
use Pestle\Core\Song\Section;
use Pestle\Core\Song\Track;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;

/** Parts and sections as arrays and back. */
final class SongCodec
{
    /** No song goes on for so long. */
    private const MOST_TICKS = 1e9;

    /** @throws InvalidChange */
    public static function part(Fields $p): Part
    {
        return new Part($p->id('id'), $p->text('name'), $p->has('colour') ? self::colour($p) : null, $p->has('keys') ? KitCodec::keys($p->nested('keys')) : null, $p->has('whole') ? (new WholeKit())->with($p->nested('whole')->settings(WholeKit::parameters())) : new WholeKit(), $p->has('shelf') ? self::shelf($p) : null);
    }

    /** @throws InvalidChange */
    public static function shelf(Fields $fields): string
    {
        $shelf = $fields->text('shelf', 60);

        return preg_match('~^\d{1,9}/\d{1,9}/[0-9a-f]{24}$~', $shelf) ? $shelf : throw InvalidChange::field('shelf', 'must name a kit of the shelf, its version and print.');
    }

    /** @throws InvalidChange */
    public static function colour(Fields $fields): string
    {
        $colour = $fields->text('colour', 20);
        if (!\in_array($colour, Part::COLOURS, true)) {
            throw InvalidChange::field('colour', 'must be one of: '.implode(', ', Part::COLOURS).'.');
        }

        return $colour;
    }

    /**
     * Points of a curve: rows of tick, value and bend.
     *
     * @throws InvalidChange
     */
    public static function curve(Fields $fields, string $field): Curve
    {
        $points = [];
        foreach ($fields->rows($field, Curve::MOST_POINTS) as $row) {
            $points[] = [$row->number('0', 0, self::MOST_TICKS), $row->number('1', -1e6, 1e6), $row->has('2') ? $row->number('2', -1, 1) : 0.0];
        }
        if ([] === $points) {
            throw InvalidChange::field($field, 'must hold at least one point.');
        }
        try {
            return new Curve($points);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @return array<string, mixed> */
    public static function movementToArray(Movement $movement): array
    {
        return ['path' => $movement->path, 'scope' => $movement->scope->value, 'of' => $movement->of, 'points' => $movement->curve->points, 'smoothMs' => $movement->smoothMs, 'on' => $movement->on];
    }

    /** @throws InvalidChange */
    public static function movement(Fields $m): Movement
    {
        try {
            $scope = $m->choice('scope', Scope::class);

            return new Movement(
                $m->text('path', 200),
                $scope,
                Scope::Song === $scope ? '' : $m->id('of'),
                self::curve($m, 'points'),
                $m->has('smoothMs') ? $m->number('smoothMs', Movement::LEAST_SMOOTH_MS, Movement::MOST_SMOOTH_MS) : Movement::LEAST_SMOOTH_MS,
                !$m->has('on') || $m->flag('on'),
            );
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @throws InvalidChange */
    public static function entry(Fields $e): Entry
    {
        return new Entry($e->id('id'), $e->id('section'), $e->whole('repeats', 1, Entry::MAX_REPEATS), $e->ids('muted', Part::MOST), $e->has('fixed') ? $e->ids('fixed', Part::MOST) : []);
    }

    /** @throws InvalidChange */
    public static function track(Fields $t): Track
    {
        try {
            return new Track($t->id('id'), $t->text('name'), $t->id('channel'));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @throws InvalidChange */
    public static function clip(Fields $c): Clip
    {
        try {
            $clip = new Clip($c->id('id'), $c->id('track'), $c->text('name'), $c->hash('sample'), $c->whole('rate', 1000, 768_000), self::tick($c, 'at'), $c->frame('from'), $c->frame('to', 1), fixed: $c->has('fixed') ? $c->text('fixed') : '');

            return $clip->with($c->settings(Clip::parameters()));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /** @throws InvalidChange */
    public static function marker(Fields $m): Marker
    {
        return new Marker($m->id('id'), $m->text('name'), self::tick($m, 'at'));
    }

    /**
     * A place of the song.
     *
     * @throws InvalidChange
     */
    public static function tick(Fields $fields, string $field): int
    {
        return $fields->whole($field, 0, (int) self::MOST_TICKS);
    }

    /** @throws InvalidChange */
    public static function section(Fields $s): Section
    {
        $cells = $s->nested('patterns');
        $patterns = [];
        foreach ($cells->keys() as $part) {
            $patterns[$part] = $cells->id($part);
        }

        return new Section(
            $s->id('id'),
            $s->text('name'),
            $patterns,
            $s->has('ticks') ? $s->whole('ticks', 1, Pattern::MAX_BARS * Meter::MAX_BEATS * Ticks::PER_QUARTER) : null,
            $s->has('meter') ? $s->meter('meter') : null,
            $s->ids('muted', Part::MOST),
        );
    }
}
