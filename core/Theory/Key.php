<?php

namespace Pestle\Core\Theory;

/** A musical key such as "D minor" or "F# major". */
final readonly class Key
{
    public const TONICS = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
    /** As they are written: with the fewer signs, of twelve with as many flats as sharps the usual one. */
    private const MAJOR = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
    private const MINOR = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'G#', 'A', 'Bb', 'B'];
    private const FLATS = ['Db' => 'C#', 'Eb' => 'D#', 'Gb' => 'F#', 'Ab' => 'G#', 'Bb' => 'A#', 'Cb' => 'B', 'Fb' => 'E', 'E#' => 'F', 'B#' => 'C'];

    /** @param int<0, 11> $tonic pitch class, 0 is C */
    private function __construct(public int $tonic, public bool $minor)
    {
    }

    /** @throws \InvalidArgumentException when it isn't a key name */
    public static function named(string $name): self
    {
        $parts = explode(' ', trim($name));
        $tonic = array_search(self::FLATS[$parts[0]] ?? $parts[0], self::TONICS, true);
        if (2 !== \count($parts) || false === $tonic || !\in_array($parts[1], ['major', 'minor'], true)) {
            throw new \InvalidArgumentException(\sprintf('"%s" is not a key. Write it like "D minor" or "F# major".', $name));
        }

        return new self($tonic, 'minor' === $parts[1]);
    }

    /** @param int $tonic pitch class; any octave will do */
    public static function of(int $tonic, bool $minor): self
    {
        return new self((($tonic % 12) + 12) % 12, $minor);
    }

    /** @return list<string> names of all keys, from C up, minor before major */
    public static function names(): array
    {
        return array_merge(...array_map(static fn (string $minor, string $major): array => [$minor.' minor', $major.' major'], self::MINOR, self::MAJOR));
    }

    /** Fifths above C of its signature: flats are below nothing. */
    public function fifths(): int
    {
        $fifths = (7 * ($this->tonic + ($this->minor ? 3 : 0)) + 5) % 12 - 5;

        // Six of either are written as the name has it.
        return 6 === $fifths && str_contains($this->name(), 'b') ? -6 : $fifths;
    }

    /** @return array{int, int, int} pitch classes of the chord on the tonic */
    public function homeChord(): array
    {
        return [$this->tonic, ($this->tonic + ($this->minor ? 3 : 4)) % 12, ($this->tonic + 7) % 12];
    }

    /** @return list<int> pitch classes of its scale, natural minor or major, from the tonic up */
    public function scale(): array
    {
        return ($this->minor ? Scale::Minor : Scale::Major)->classes($this->tonic);
    }

    public function name(): string
    {
        return $this->minor ? self::MINOR[$this->tonic].' minor' : self::MAJOR[$this->tonic].' major';
    }
}
