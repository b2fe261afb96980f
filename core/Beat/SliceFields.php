<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Sample\SliceSettings;

/** Slices of a sample from untrusted fields. */
final class SliceFields
{
    /** @throws InvalidChange */
    public static function read(Fields $fields): Slices
    {
        $settings = [];
        foreach ($fields->has('settings') ? $fields->rows('settings', Slices::MAX) : [] as $row) {
            $settings[$row->frame('at')] = self::settings($row, new SliceSettings());
        }
        $markers = array_values(array_unique($fields->wholes('markers', Slices::MAX, Fields::MOST_FRAMES)));
        sort($markers);

        return new Slices($markers, $fields->has('how') ? $fields->text('how', 12) : 'hand', array_intersect_key($settings, array_flip($markers)));
    }

    /** Those that are named; the others stay. */
    public static function settings(Fields $f, SliceSettings $before): SliceSettings
    {
        $changed = [];
        foreach (array_intersect($f->keys(), ['end', 'name', 'role', 'reversed', 'gainDb']) as $field) {
            $changed[$field] = match ($field) {
                'end' => $f->has('end') ? $f->frame('end', 1) : null,
                'name' => $f->has('name') ? $f->text('name', 60) : '',
                'role' => $f->has('role') ? $f->choice('role', Role::class) : null,
                'reversed' => $f->flag('reversed'),
                default => $f->number('gainDb', -60.0, SliceSettings::MAX_GAIN_DB),
            };
        }

        return $before->with($changed);
    }
}
