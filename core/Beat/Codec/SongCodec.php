<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;

/** Parts and sections as arrays and back. */
final class SongCodec
{
    /** @throws InvalidChange */
    public static function part(Fields $p): Part
    {
        return new Part($p->id('id'), $p->text('name'), $p->has('colour') ? self::colour($p) : null, $p->has('keys') ? KitCodec::keys($p->nested('keys')) : null);
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
            $s->whole('repeats', 1, Section::MAX_REPEATS),
            $s->has('ticks') ? $s->whole('ticks', 1, Pattern::MAX_BARS * Meter::MAX_BEATS * Ticks::PER_QUARTER) : null,
            $s->has('meter') ? $s->meter('meter') : null,
            $s->ids('muted', Part::MOST),
        );
    }
}
