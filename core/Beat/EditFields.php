<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Sample\Attacks;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\FadeShape;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Sample\Material;
use Pestle\Core\Song\Clip;
use Pestle\Core\Theory\Tempo;

/** Edits of a sample from untrusted fields: each kind with its settings and their ranges. */
final class EditFields
{
    /** @throws InvalidChange */
    public static function read(Fields $fields, string $field): Edits
    {
        return new Edits(array_map(self::edit(...), $fields->rows($field, Edits::MAX)));
    }

    private static function edit(Fields $f): Edit
    {
        $kind = $f->choice('kind', EditKind::class);
        $from = $f->has('from') ? $f->frame('from') : null;
        $to = $f->has('to') ? $f->frame('to', 1) : null;
        if (null !== $to && $to <= ($from ?? 0)) {
            throw InvalidChange::field('to', 'must lie after the start of the selection.');
        }

        if (EditKind::InTime === $kind && (null !== $from || null !== $to)) {
            throw InvalidChange::field('from', 'can\'t be given for keeping time: that is for the whole recording.');
        }

        return new Edit($kind, $from, $to, self::settings($kind, $f), !$f->has('on') || $f->flag('on'));
    }

    /** @return array<string, float|int|string> */
    private static function settings(EditKind $kind, Fields $f): array
    {
        return match ($kind) {
            EditKind::Gain => ['db' => $f->number('db', -60, 40)],
            EditKind::Normalise => ['measure' => self::oneOf($f, 'measure', ['peak', 'loudness']), 'db' => $f->number('db', -60, 0)],
            EditKind::FadeIn, EditKind::FadeOut => ['shape' => $f->choice('shape', FadeShape::class)->value],
            EditKind::Pitch => ['cents' => $f->number('cents', -1200, 1200)] + self::material($f),
            EditKind::Stretch => ['percent' => $f->number('percent', 25, 400)] + self::material($f),
            EditKind::InTime => [
                'bpm' => $f->number('bpm', Tempo::MIN, Tempo::MAX), 'places' => self::places($f), 'follow' => $f->flag('follow') ? 1 : 0,
                'frames' => $f->frame('frames', 1), 'rate' => $f->whole('rate', 1000, 768000),
            ] + self::material($f),
            EditKind::Speed => ['percent' => $f->number('percent', 25, 400)],
            EditKind::Converter => ['bits' => $f->whole('bits', 2, 16), 'rate' => $f->whole('rate', 2000, 48000), 'filters' => $f->flag('filters') ? 1 : 0],
            EditKind::Room => ['seconds' => $f->number('seconds', 0.2, Clip::LONGEST_ROOM), 'mix' => $f->number('mix', 0, 100), 'tail' => $f->whole('tail', 0, 20 * 768_000)],
            EditKind::Mono => ['side' => self::oneOf($f, 'side', ['sum', 'left', 'right'])],
            default => [],
        };
    }

    /** Frames and beats by turns, both ascending. */
    private static function places(Fields $f): string
    {
        $places = $f->text('places', 24 * Fit::MOST_PLACES);
        $pairs = array_chunk(array_map(floatval(...), explode(' ', $places)), 2);
        $ascends = 1 === preg_match('/^\d+ -?[\d.]+( \d+ -?[\d.]+)+$/', $places);
        for ($i = 1; $ascends && $i < \count($pairs); ++$i) {
            $ascends = $pairs[$i][0] > $pairs[$i - 1][0] && ($pairs[$i][1] ?? 0.0) > ($pairs[$i - 1][1] ?? 0.0);
        }

        return $ascends ? $places : throw InvalidChange::field('places', 'must be frames and beats by turns, at least two of each, ascending.');
    }

    /** @return array<string, string|int> what it is made of; without it, that is heard; and how its attacks are found */
    private static function material(Fields $f): array
    {
        return ($f->has('material') ? ['material' => $f->choice('material', Material::class)->value] : [])
            + ($f->has('attacks') ? ['attacks' => $f->whole('attacks', 1, Attacks::NEWEST)] : []);
    }

    /** @param list<string> $words */
    private static function oneOf(Fields $f, string $field, array $words): string
    {
        $word = $f->text($field);
        if (!\in_array($word, $words, true)) {
            throw InvalidChange::field($field, 'must be one of: '.implode(', ', $words).'.');
        }

        return $word;
    }
}
