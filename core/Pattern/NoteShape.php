<?php

namespace Pestle\Core\Pattern;

/** What can be done to several notes at once. */
enum NoteShape: string
{
    case Split = 'split';
    case Join = 'join';
    case Repeat = 'repeat';
    case Invert = 'invert';
    case Reverse = 'reverse';
    case Legato = 'legato';
    case Strum = 'strum';
    case Louder = 'louder';
    case Softer = 'softer';
    case Spread = 'spread';
    case Even = 'even';
    case Rise = 'rise';

    public function label(): string
    {
        return match ($this) {
            self::Split => 'Split',
            self::Join => 'Join',
            self::Repeat => 'Repeat',
            self::Invert => 'Invert',
            self::Reverse => 'Reverse',
            self::Legato => 'Legato for',
            self::Strum => 'Strum',
            self::Louder => 'Louder',
            self::Softer => 'Softer',
            self::Spread => 'Strengths driven apart of',
            self::Even => 'Strengths drawn together of',
            self::Rise => 'A rise over',
        };
    }

    /**
     * @param non-empty-list<Note> $notes in order of time, then pitch
     * @param int                  $grid  ticks: of each piece that is split off, between strummed notes (before 0 downwards), and the least that is repeated
     * @param int                  $ticks of the pattern
     *
     * @return list<Note> those that lie beyond the pattern are left out by it
     */
    public function of(array $notes, int $grid, int $ticks): array
    {
        return match ($this) {
            self::Split => array_merge(...array_map(static fn (Note $n): array => self::pieces($n, max(1, $grid)), $notes)),
            self::Join => self::joined($notes),
            self::Repeat => [...$notes, ...self::again($notes, max(1, $grid), $ticks)],
            self::Invert => self::inverted($notes),
            self::Reverse => self::reversed($notes),
            self::Legato => self::legato($notes, $ticks),
            self::Strum => self::strummed($notes, $grid),
            self::Louder => self::strengths($notes, static fn (int $v): float => $v + 8.0),
            self::Softer => self::strengths($notes, static fn (int $v): float => $v - 8.0),
            self::Spread, self::Even => self::around($notes, self::Spread === $this ? 1.3 : 0.7),
            self::Rise => self::rising($notes),
        };
    }

    /** @return list<Note> */
    private static function pieces(Note $note, int $grid): array
    {
        $pieces = [];
        for ($at = 0; $at < $note->length; $at += $grid) {
            $pieces[] = new Note($note->tick + $at, $note->pitch, $note->velocity, min($grid, $note->length - $at), $note->chance, $note->fine, 0, $note->group);
        }

        return $pieces;
    }

    /**
     * Notes of a pitch become one, from the first to the end of the last.
     *
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function joined(array $notes): array
    {
        $byPitch = [];
        foreach ($notes as $note) {
            $first = $byPitch[$note->pitch] ?? $note;
            $byPitch[$note->pitch] = new Note($first->tick, $note->pitch, $first->velocity, max($first->tick + $first->length, $note->tick + $note->length) - $first->tick, $first->chance, $first->fine, 0, $first->group);
        }

        return array_values($byPitch);
    }

    /**
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note> the same once more behind them, from the next grid line on
     */
    private static function again(array $notes, int $grid, int $ticks): array
    {
        $from = intdiv($notes[0]->tick, $grid) * $grid;
        $end = max(array_map(static fn (Note $n): int => $n->tick + $n->length, $notes));
        $span = max($grid, (int) ceil(($end - $from) / $grid) * $grid);

        return array_values(array_filter(array_map(static fn (Note $n): Note => $n->later($span), $notes), static fn (Note $n): bool => $n->tick < $ticks));
    }

    /**
     * Upside down, between the same highest and lowest.
     *
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function inverted(array $notes): array
    {
        $sum = max(array_column($notes, 'pitch')) + min(array_column($notes, 'pitch'));

        return array_map(static fn (Note $n): Note => new Note($n->tick, $sum - $n->pitch, $n->velocity, $n->length, $n->chance, $n->fine, $n->fineLength, $n->group), $notes);
    }

    /**
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note> in the same time, last first
     */
    private static function reversed(array $notes): array
    {
        $sum = $notes[0]->tick + max(array_map(static fn (Note $n): int => $n->tick + $n->length, $notes));

        return array_map(static fn (Note $n): Note => $n->at(max(0, $sum - $n->tick - $n->length)), $notes);
    }

    /**
     * Each lasts until the next one of another time begins, the last until the end.
     *
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function legato(array $notes, int $ticks): array
    {
        $begins = array_values(array_unique(array_column($notes, 'tick')));

        return array_map(static function (Note $n) use ($begins, $ticks): Note {
            $later = array_filter($begins, static fn (int $tick): bool => $tick > $n->tick);

            return new Note($n->tick, $n->pitch, $n->velocity, ([] === $later ? $ticks : min($later)) - $n->tick, $n->chance, $n->fine, 0, $n->group);
        }, $notes);
    }

    /**
     * Notes that begin together come one after another, each ending where it did.
     *
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function strummed(array $notes, int $apart): array
    {
        $chords = [];
        foreach ($notes as $note) {
            $chords[$note->tick][] = $note;
        }
        $strummed = [];
        foreach ($chords as $chord) {
            foreach ($apart < 0 ? array_reverse($chord) : $chord as $i => $note) {
                $late = $i * abs($apart);
                $strummed[] = new Note($note->tick + $late, $note->pitch, $note->velocity, max(1, $note->length - $late), $note->chance, $note->fine, 0, $note->group);
            }
        }

        return $strummed;
    }

    /**
     * @param non-empty-list<Note> $notes
     * @param \Closure(int): float $changed
     *
     * @return list<Note>
     */
    private static function strengths(array $notes, \Closure $changed): array
    {
        return array_map(static fn (Note $n): Note => $n->placed($n->tick * Hit::FINE + $n->fine, max(1, min(127, (int) round($changed($n->velocity)))), $n->lengthTicks()), $notes);
    }

    /**
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function around(array $notes, float $factor): array
    {
        $mean = array_sum(array_column($notes, 'velocity')) / \count($notes);

        return self::strengths($notes, static fn (int $v): float => $mean + $factor * ($v - $mean));
    }

    /**
     * From the strength of the first to that of the last, evenly in time.
     *
     * @param non-empty-list<Note> $notes
     *
     * @return list<Note>
     */
    private static function rising(array $notes): array
    {
        $first = $notes[0];
        $last = $notes[\count($notes) - 1];
        $span = max(1, $last->tick - $first->tick);

        return array_map(static fn (Note $n): Note => $n->placed($n->tick * Hit::FINE + $n->fine, (int) round($first->velocity + ($last->velocity - $first->velocity) * ($n->tick - $first->tick) / $span), $n->lengthTicks()), $notes);
    }
}
