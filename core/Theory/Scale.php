<?php

namespace Pestle\Core\Theory;

/** Scales to play in, as semitones above their root. */
enum Scale: string
{
    case Major = 'major';
    case Minor = 'minor';
    case HarmonicMinor = 'harmonic minor';
    case MelodicMinor = 'melodic minor';
    case MajorPentatonic = 'major pentatonic';
    case MinorPentatonic = 'minor pentatonic';
    case Blues = 'blues';
    case Dorian = 'dorian';
    case Phrygian = 'phrygian';
    case Lydian = 'lydian';
    case Mixolydian = 'mixolydian';
    case Locrian = 'locrian';

    /** @return non-empty-list<int> from 0 up, below 12 */
    public function steps(): array
    {
        return match ($this) {
            self::Major => [0, 2, 4, 5, 7, 9, 11],
            self::Minor => [0, 2, 3, 5, 7, 8, 10],
            self::HarmonicMinor => [0, 2, 3, 5, 7, 8, 11],
            self::MelodicMinor => [0, 2, 3, 5, 7, 9, 11],
            self::MajorPentatonic => [0, 2, 4, 7, 9],
            self::MinorPentatonic => [0, 3, 5, 7, 10],
            self::Blues => [0, 3, 5, 6, 7, 10],
            self::Dorian => [0, 2, 3, 5, 7, 9, 10],
            self::Phrygian => [0, 1, 3, 5, 7, 8, 10],
            self::Lydian => [0, 2, 4, 6, 7, 9, 11],
            self::Mixolydian => [0, 2, 4, 5, 7, 9, 10],
            self::Locrian => [0, 1, 3, 5, 6, 8, 10],
        };
    }

    /** @return list<int> pitch classes from a root up */
    public function classes(int $root): array
    {
        return array_map(static fn (int $step): int => ($root + $step) % 12, $this->steps());
    }

    /** @return list<int> pitch classes of root, third and fifth, as far as the scale has them */
    public function homeChord(int $root): array
    {
        $third = \in_array(4, $this->steps(), true) ? 4 : 3;

        return array_values(array_intersect($this->classes($root), [$root % 12, ($root + $third) % 12, ($root + 7) % 12]));
    }

    public function label(): string
    {
        return ucfirst($this->value);
    }
}
