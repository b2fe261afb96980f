<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Zone;

/** Recorded notes as changes name them. */
final class RecordedNotes
{
    /**
     * @return non-empty-list<array{Zone, float}> with their peaks in dB
     *
     * @throws InvalidChange
     */
    public static function read(Fields $fields): array
    {
        $notes = array_map(static fn (Fields $f): array => [
            new Zone(new Layer($f->text('name'), $f->hash('sample'), 0, $f->frame('frames', 1)), $f->whole('rootCents', 0, 100 * Zone::HIGHEST)),
            $f->number('peakDb', -200.0, 60.0),
        ], $fields->rows('sounds', Keys::MAX_ZONES));

        return [] === $notes ? throw InvalidChange::field('sounds', 'must name at least one sound.') : $notes;
    }
}
