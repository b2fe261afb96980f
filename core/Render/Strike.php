<?php

namespace Pestle\Core\Render;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Theory\Tempo;

/** A hit or a note at the frame at which it is struck, and who silences whom. */
final readonly class Strike
{
    /**
     * @param string             $source id of the pad, or of the part that is played on keys
     * @param list<string>       $says   names under which it silences others
     * @param array<string, int> $ends   names that silence it: at the first strike that says it, the second, and so on
     * @param float              $ticks  until it is let go, at the tempo of the beat
     * @param int                $turn   which of the pad's sounds answers, where they do so one at a time
     * @param Slides|null        $slides other pitches its voice moves to while it sounds
     * @param bool               $heard  whether it has voices, or only silences others
     * @param Tempo|null         $tempo  what goes by the beat in it goes by; null for that of the beat
     * @param list<Drift>        $drifts settings that go on moving while it sounds
     */
    public function __construct(
        public int $frame,
        public string $source,
        public Pad|Keys $sound,
        public array $says,
        public array $ends,
        public int $velocity,
        public float $ticks,
        public int $pitch = 0,
        public int $turn = 0,
        public ?Slides $slides = null,
        public bool $heard = true,
        public ?Tempo $tempo = null,
        public array $drifts = [],
    ) {
    }

    /** The same, with another one of its sounds. */
    public function inTurn(int $turn): self
    {
        return $this->with(['turn' => $turn]);
    }

    /** The same, of an instrument that is set otherwise. */
    public function playing(Keys $sound): self
    {
        return $this->with(['sound' => $sound]);
    }

    /** It goes on as another note, until that one is let go. */
    public function goingOn(Slides $slides, float $ticks): self
    {
        return $this->with(['slides' => $slides, 'ticks' => $ticks]);
    }

    /** Played, and not heard. */
    public function unheard(): self
    {
        return $this->with(['heard' => false]);
    }

    /**
     * Where the tempo is another one, or something moves.
     *
     * @param list<Drift> $drifts
     */
    public function moving(?Tempo $tempo, array $drifts): self
    {
        return null === $tempo && [] === $drifts ? $this : $this->with(['tempo' => $tempo, 'drifts' => $drifts]);
    }

    /** @param array<string, mixed> $changed */
    private function with(array $changed): self
    {
        /** @var array{frame: int, source: string, sound: Pad|Keys, says: list<string>, ends: array<string, int>, velocity: int, ticks: float, pitch: int, turn: int, slides: Slides|null, heard: bool, tempo: Tempo|null, drifts: list<Drift>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** Pitch at which it ends. */
    public function lastPitch(): int
    {
        $moved = null === $this->slides ? 0.0 : $this->slides->targets[\count($this->slides->targets) - 1][1];

        return $this->pitch + (int) round($moved / 100.0);
    }

    /** A pad that is struck: its earlier voices end, those of its choke group and of the pads it silences. */
    public static function pad(Pad $pad, ?string $part, int $frame, int $velocity, float $ticks, int $turn = 0): self
    {
        $own = 'pad '.$pad->id;
        $group = $pad->choke > 0 ? ['group '.$pad->choke.' '.$part] : [];

        return new self(
            $frame,
            $pad->id,
            $pad,
            [$own, ...$group, ...array_map(static fn (string $id): string => 'hush '.$id, $pad->silences)],
            [$own => $pad->voices, 'hush '.$pad->id => 1, ...array_fill_keys($group, 1)],
            $velocity,
            $ticks,
            0,
            $turn,
        );
    }

    /** A note of an instrument: it ends the one before of its pitch, and the one before at all where they come one at a time. */
    public static function note(Keys $keys, string $part, int $frame, int $velocity, float $ticks, int $pitch, int $turn = 0): self
    {
        $own = $part.' '.$pitch;

        return new self($frame, $part, $keys, [$part, $own], [$part => $keys->single ? 1 : $keys->voices, $own => 1], $velocity, $ticks, $pitch, $turn);
    }
}
