<?php

namespace Pestle\Core\Theory;

/**
 * What chord sounds, by how much of each pitch class there is: of all chords on all roots the one that explains most of it
 * with least beside it. Source of the idea: templates of pitch classes, as in Fujishima, "Realtime chord recognition of
 * musical sound" (ICMC 1999); here on notes, so that how long each sounds is known.
 */
final class ChordName
{
    private const SHARPS = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
    private const FLATS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'];
    private const SIGNS = ['major' => '', 'minor' => 'm', 'diminished' => 'dim', 'augmented' => 'aug'];
    /** What sounds for less than this share of all passes by. */
    private const PASSING = 0.06;
    /** Shares of all: what a chord lacks, what a further note of it costs, what it is worth that its root is the lowest. */
    private const MISSING = 0.22;
    private const NOTE = 0.04;
    private const LOWEST = 0.12;

    /**
     * @param array<int, float> $weights how much sounds, by pitch class from 0 for C; in any unit
     * @param int|null          $lowest  pitch class of the lowest note
     *
     * @return string such as "Dm7" or "F/A", "(D)" where one note sounds alone, "" where nothing does
     */
    public static function of(array $weights, ?int $lowest, bool $flats = false): string
    {
        $all = array_sum($weights);
        $there = array_filter($weights, static fn (float $w): bool => $w > self::PASSING * $all);
        $names = $flats ? self::FLATS : self::SHARPS;
        if (\count($there) < 2 || $all <= 0.0) {
            return [] === $there ? '' : '('.$names[array_key_first($there)].')';
        }
        [$best, $name] = [-\INF, ''];
        for ($root = 0; $root < 12; ++$root) {
            foreach (Chord::cases() as $chord) {
                $score = self::score($chord, $root, $there, $all) + ($root === $lowest ? self::LOWEST : 0.0);
                if ($score > $best) {
                    [$best, $name] = [$score, $names[$root].(self::SIGNS[$chord->value] ?? $chord->value).(null !== $lowest && $root !== $lowest && isset($there[$lowest]) ? '/'.$names[$lowest] : '')];
                }
            }
        }

        return $name;
    }

    /** @param array<int, float> $there */
    private static function score(Chord $chord, int $root, array $there, float $all): float
    {
        $classes = array_map(static fn (int $semitones): int => ($root + $semitones) % 12, $chord->semitones());
        $inside = array_sum(array_intersect_key($there, array_flip($classes))) / $all;
        $outside = array_sum($there) / $all - $inside;
        $missing = \count(array_filter($classes, static fn (int $class): bool => !isset($there[$class])));

        return $inside - 1.5 * $outside - self::MISSING * $missing - self::NOTE * \count($classes);
    }
}
