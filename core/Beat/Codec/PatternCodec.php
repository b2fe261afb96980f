<?php

namespace Pestle\Core\Beat\Codec;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Groove;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Ticks;

/** Patterns with their hits and notes as arrays and back. */
final class PatternCodec
{
    private const MOST_TICKS = 10_000_000;

    /** @return array<string, mixed> */
    public static function toArray(Pattern $pattern): array
    {
        return [
            'id' => $pattern->id,
            'name' => $pattern->name,
            'part' => $pattern->part,
            'ticks' => $pattern->ticks,
            'feel' => (object) $pattern->feel->toArray(),
            'hits' => array_map(static fn (Hit $h): array => $h->toArray(), $pattern->hits),
            'notes' => array_map(static fn (Note $n): array => $n->toArray(), $pattern->notes),
            'lanes' => (object) array_map(static fn (Lane $l): array => ['ticks' => $l->ticks, 'feel' => null === $l->feel ? null : (object) $l->feel->toArray()], $pattern->lanes),
            'colour' => $pattern->colour,
        ];
    }

    /** @throws InvalidChange */
    public static function read(Fields $p): Pattern
    {
        return Pattern::of(
            $p->id('id'),
            $p->text('name'),
            $p->id('part'),
            $p->whole('ticks', 1, Pattern::MAX_BARS * Meter::MAX_BEATS * Ticks::PER_QUARTER),
            self::feel($p->nested('feel')),
            self::hits($p),
            self::notes($p),
            self::lanes($p->nested('lanes')),
            $p->has('colour') ? SongCodec::colour($p) : null,
        );
    }

    /** @throws InvalidChange */
    public static function feel(Fields $f): Feel
    {
        $set = $f->settings(Feel::parameters());

        return (new Feel())->with($f->has('groove') ? [...$set, 'groove' => $f->id('groove')] : $set);
    }

    /**
     * @return array<string, Lane> by pad
     *
     * @throws InvalidChange
     */
    private static function lanes(Fields $lanes): array
    {
        $read = [];
        foreach ($lanes->keys() as $pad) {
            $lane = $lanes->nested($pad);
            $read[$pad] = new Lane($lane->has('ticks') ? $lane->whole('ticks', 1, self::MOST_TICKS) : null, $lane->has('feel') ? self::feel($lane->nested('feel')) : null);
        }

        return $read;
    }

    /** @throws InvalidChange */
    public static function groove(Fields $g): Groove
    {
        $slots = array_map(static function (mixed $slot): ?array {
            if (null === $slot) {
                return null;
            }

            return \is_array($slot) && is_numeric($slot[0] ?? null) && is_numeric($slot[1] ?? null) ? [(float) $slot[0], (float) $slot[1]] : throw InvalidChange::field('slots', 'must hold pairs of ticks and loudness.');
        }, $g->items('slots', Groove::MOST_SLOTS));
        try {
            return new Groove($g->id('id'), $g->text('name'), $g->whole('grid', 1, 3840), [] === $slots ? throw InvalidChange::field('slots', 'must hold at least one place.') : $slots);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    /**
     * @return list<Hit>
     *
     * @throws InvalidChange
     */
    public static function hits(Fields $fields): array
    {
        return $fields->map('hits', Pattern::MAX_HITS, self::plainHit(...), self::hit(...));
    }

    /**
     * The common row, read without looking at what it does not hold: patterns of thousands of hits are read at each edit.
     *
     * @param array<array-key, mixed> $row
     */
    private static function plainHit(array $row): ?Hit
    {
        return 5 === \count($row) && \is_string($pad = $row[1] ?? null) && Fields::isId($pad) && self::isPlain($row) ? new Hit($row[0], $pad, $row[2], $row[3], $row[4]) : null;
    }

    /**
     * @param array<array-key, mixed> $row
     *
     * @phpstan-assert-if-true array{int, mixed, int, int, int} $row
     */
    private static function isPlain(array $row): bool
    {
        return \is_int($at = $row[0] ?? null) && $at >= 0 && $at <= self::MOST_TICKS
            && \is_int($velocity = $row[2] ?? null) && $velocity >= 1 && $velocity <= 127
            && \is_int($length = $row[3] ?? null) && $length >= 1 && $length <= self::MOST_TICKS
            && \is_int($chance = $row[4] ?? null) && $chance >= 1 && $chance <= 100;
    }

    /** @throws InvalidChange */
    private static function hit(Fields $h): Hit
    {
        return new Hit(
            $h->whole('0', 0, self::MOST_TICKS),
            $h->id('1'),
            $h->whole('2', 1, 127),
            $h->has('3') ? $h->whole('3', 1, self::MOST_TICKS) : 240,
            $h->has('4') ? $h->whole('4', 1, 100) : 100,
            $h->has('5') ? $h->whole('5', 0, Hit::FINE - 1) : 0,
            $h->has('6') ? $h->whole('6', 0, Hit::FINE - 1) : 0,
            !$h->has('7') ? '' : self::grade($h->text('7', 60)),
            $h->has('8') ? $h->whole('8', 1, Hit::MOST_STRIKES) : 1,
            $h->has('9') ? $h->id('9') : '',
            $h->has('10') ? $h->whole('10', 0, self::MOST_TICKS) : null,
        );
    }

    /** @throws InvalidChange */
    public static function grade(string $grade): string
    {
        return preg_match('~^[a-zA-Z0-9/]{1,40}=-?\d{1,6}(?:\.\d{1,6})?$~', $grade) ? $grade : throw InvalidChange::field('hits', 'hold a grade that is no setting and number, such as tuneCents=300.');
    }

    /**
     * @return list<Note>
     *
     * @throws InvalidChange
     */
    public static function notes(Fields $fields): array
    {
        return $fields->map('notes', Pattern::MAX_HITS, self::plainNote(...), self::note(...));
    }

    /** @param array<array-key, mixed> $row */
    private static function plainNote(array $row): ?Note
    {
        return 5 === \count($row) && \is_int($pitch = $row[1] ?? null) && $pitch >= 0 && $pitch <= Note::MAX_PITCH && self::isPlain($row) ? new Note($row[0], $pitch, $row[2], $row[3], $row[4]) : null;
    }

    /** @throws InvalidChange */
    private static function note(Fields $n): Note
    {
        return new Note(
            $n->whole('0', 0, self::MOST_TICKS),
            $n->whole('1', 0, Note::MAX_PITCH),
            $n->whole('2', 1, 127),
            $n->has('3') ? $n->whole('3', 1, self::MOST_TICKS) : 240,
            $n->has('4') ? $n->whole('4', 1, 100) : 100,
            $n->has('5') ? $n->whole('5', 0, Hit::FINE - 1) : 0,
            $n->has('6') ? $n->whole('6', 0, Hit::FINE - 1) : 0,
            $n->has('7') ? $n->id('7') : '',
            $n->has('8') ? $n->whole('8', 0, self::MOST_TICKS) : null,
        );
    }
}
