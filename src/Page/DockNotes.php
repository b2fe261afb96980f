<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Scale;

/** The dock where a part is played on keys: sixteen notes, by semitones or in a scale, told apart by what they are in it. */
final readonly class DockNotes
{
    /**
     * @param Key|null $key       of the beat
     * @param int|null $rootCents of the instrument; null for a kit
     * @param string   $scale     "semitones", a Scale, or "" for the beat's key
     * @param string   $root      pitch class a chosen scale begins on, "" for the key's
     * @param string   $octave    "" for the one of the recording
     */
    public function __construct(private ?Key $key, private ?int $rootCents, private string $scale, private string $root, private string $octave)
    {
    }

    /** Whether the dock's notes go by a scale; else by semitones. */
    public function inScale(): bool
    {
        return null !== $this->guide() && 'semitones' !== $this->scale;
    }

    /**
     * What tells the notes apart: a chosen scale from a chosen root, or the beat's key.
     *
     * @return array{root: int, scale: list<int>, home: list<int>}|null pitch classes
     */
    public function guide(): ?array
    {
        $key = $this->key;
        $scale = Scale::tryFrom($this->scale);
        if (null === $scale) {
            return null === $key ? null : ['root' => $key->tonic, 'scale' => $key->scale(), 'home' => $key->homeChord()];
        }

        return ['root' => $this->root(), 'scale' => $scale->classes($this->root()), 'home' => $scale->homeChord($this->root())];
    }

    /** Pitch class a chosen scale begins on. */
    public function root(): int
    {
        return ctype_digit($this->root) ? (int) $this->root % 12 : $this->key->tonic ?? 0;
    }

    /** @return list<Scale> */
    public function scales(): array
    {
        return Scale::cases();
    }

    /** The octave the dock's notes begin in, 3 where middle C begins the fourth. */
    public function octave(): int
    {
        return max(0, min(8, '' === $this->octave ? (int) floor((($this->rootCents ?? 6000) / 100 - 12) / 12) : (int) $this->octave));
    }

    /** @return list<array{key: string, pitch: int, left: bool, mark: string}> the dock's sixteen notes, lower row first; mark tells the root, the home chord and what lies in the scale */
    public function places(): array
    {
        $guide = $this->guide();
        $from = 12 * ($this->octave() + 1) + ($guide['root'] ?? 0);
        $steps = $this->inScale() && null !== $guide ? array_map(static fn (int $class): int => ($class - $guide['root'] + 12) % 12, $guide['scale']) : range(0, 11);
        $places = [];
        foreach (BeatPage::KEYS as $i => $name) {
            // The lower row is the lower one in pitch.
            $rank = $i < 8 ? $i + 8 - (12 === \count($steps) ? 0 : 1) : $i - 8;
            $pitch = $from + 12 * intdiv($rank, \count($steps)) + $steps[$rank % \count($steps)];
            $places[] = ['key' => $name, 'pitch' => min(127, $pitch), 'left' => 0 === intdiv($i, 4) % 2, 'mark' => $this->mark($pitch)];
        }

        return $places;
    }

    /** What a note is in the guide: the root, of the home chord, in the scale or outside; empty without a guide. */
    public function mark(int $pitch): string
    {
        $guide = $this->guide();
        $class = $pitch % 12;

        return match (true) {
            null === $guide => '',
            $class === $guide['root'] => 'root',
            \in_array($class, $guide['home'], true) => 'home',
            \in_array($class, $guide['scale'], true) => 'scale',
            default => 'outside',
        };
    }

    /**
     * The note that a pad holds, where its sound is one, and what that is in the guide.
     *
     * @param float|null $heard MIDI note of its sound as it was recorded; null where it is none
     *
     * @return array{pitch: float, mark: string}|null
     */
    public function ofPad(Pad $pad, ?float $heard): ?array
    {
        if (null === $heard || !\in_array($pad->role, [Role::Tonal, Role::Bass, Role::Voice], true)) {
            return null;
        }
        $pitch = max(0.0, min(127.0, $heard + ($pad->tuneCents + $pad->main()->tuneCents) / 100.0));

        return ['pitch' => $pitch, 'mark' => 'semitones' === $this->scale ? '' : $this->mark((int) round($pitch))];
    }
}
