<?php

namespace Pestle\Core\Theory;

/** Chords by name, from their root, and by their degree in a scale. */
enum Chord: string
{
    case Major = 'major';
    case Minor = 'minor';
    case Diminished = 'diminished';
    case Augmented = 'augmented';
    case SuspendedFourth = 'sus4';
    case SuspendedSecond = 'sus2';
    case Sixth = '6';
    case MinorSixth = 'm6';
    case Seventh = '7';
    case MajorSeventh = 'maj7';
    case MinorSeventh = 'm7';
    case HalfDiminished = 'm7b5';
    case Ninth = '9';
    case MajorNinth = 'maj9';
    case MinorNinth = 'm9';
    case Fifth = '5';

    /** @return non-empty-list<int> semitones over its root, ascending from 0 */
    public function semitones(): array
    {
        return match ($this) {
            self::Major => [0, 4, 7],
            self::Minor => [0, 3, 7],
            self::Diminished => [0, 3, 6],
            self::Augmented => [0, 4, 8],
            self::SuspendedFourth => [0, 5, 7],
            self::SuspendedSecond => [0, 2, 7],
            self::Sixth => [0, 4, 7, 9],
            self::MinorSixth => [0, 3, 7, 9],
            self::Seventh => [0, 4, 7, 10],
            self::MajorSeventh => [0, 4, 7, 11],
            self::MinorSeventh => [0, 3, 7, 10],
            self::HalfDiminished => [0, 3, 6, 10],
            self::Ninth => [0, 4, 7, 10, 14],
            self::MajorNinth => [0, 4, 7, 11, 14],
            self::MinorNinth => [0, 3, 7, 10, 14],
            self::Fifth => [0, 7],
        };
    }

    /**
     * What is built on a note out of the scale by thirds.
     *
     * @param list<int> $scale pitch classes, ascending from the root
     * @param int       $notes how many of them, 3 for a triad
     *
     * @return non-empty-list<int> pitches from the note on; the note alone where it is not of the scale
     */
    public static function inScale(int $pitch, array $scale, int $notes = 3): array
    {
        $at = array_search((($pitch % 12) + 12) % 12, $scale, true);
        if (false === $at) {
            return [$pitch];
        }
        $chord = [$pitch];
        for ($i = 1, $last = $pitch; $i < $notes; ++$i) {
            $class = $scale[($at + 2 * $i) % \count($scale)];
            $last += ((($class - $last) % 12) + 12) % 12 ?: 12;
            $chord[] = $last;
        }

        return $chord;
    }
}
