<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/** An instrument made of one recording: a stretch of a sample, played higher and lower from its root. */
final readonly class Keys implements Settable
{
    private const HIGHEST = 127;
    /** Notes the recording can be moved by either way, in semitones. */
    public const REACH = 60;
    public const MAX_VOICES = 64;
    /** In which a note dies away that is let go, until somebody sets it otherwise. */
    public const RELEASE_MS = 60.0;

    /**
     * @param int      $start     first frame of the sample that plays
     * @param int      $end       the one after the last
     * @param int      $rootCents pitch of the recording: MIDI number times 100, and what it is off by
     * @param bool     $single    one note at a time, each cuts the one before
     * @param int|null $loopStart first frame of the sample that goes round while a note is held, and with it
     * @param int|null $loopEnd   the one after the last; null for neither
     * @param int      $glideMs   how long a note takes from the pitch of the one before to its own, where they come one at a time
     * @param bool     $even      whether all notes last as long as the recording; else high ones are shorter and low ones longer
     * @param bool     $held      as long as the note is held, then the release of its envelope; else to its end
     * @param int      $voices    notes that sound at once; one more ends the one before them
     * @param float    $strength  how much the strength of a note is heard: the power of its level
     */
    public function __construct(
        public string $sample,
        public int $start,
        public int $end,
        public int $rootCents,
        public string $channel,
        public bool $single = false,
        public bool $held = true,
        public float $levelDb = 0.0,
        public int $low = 0,
        public int $high = 127,
        public int $glideMs = 0,
        public ?int $loopStart = null,
        public ?int $loopEnd = null,
        public bool $even = false,
        public int $voices = self::MAX_VOICES,
        public float $strength = 1.5,
        public Treatment $treatment = new Treatment(new Envelope(releaseMs: self::RELEASE_MS, releaseBend: 0.0)),
    ) {
        if ($start < 0 || $end <= $start) {
            throw new \InvalidArgumentException('The end of an instrument\'s sound must lie after its start.');
        }
        if ((null === $loopStart) !== (null === $loopEnd) || (null !== $loopStart && ($loopStart < $start || $loopEnd <= $loopStart || $loopEnd > $end))) {
            throw new \InvalidArgumentException('The loop of an instrument must lie within its sound, its end after its start.');
        }
        if ($low > $high) {
            throw new \InvalidArgumentException('The lowest note of an instrument must not lie above its highest.');
        }
    }

    public static function parameters(): array
    {
        return [
            'rootCents' => Parameter::whole('Root', 'cents', 0, 100 * self::HIGHEST, 6000),
            'single' => Parameter::onOff('One note at a time'),
            'held' => Parameter::onOff('Length of notes', true),
            'even' => Parameter::onOff('High notes as long as low ones'),
            'glideMs' => Parameter::whole('Glide', 'ms', 0, 2000, 0),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5),
            'low' => Parameter::whole('Lowest note', '', 0, self::HIGHEST, 0),
            'high' => Parameter::whole('Highest note', '', 0, self::HIGHEST, self::HIGHEST),
            'voices' => Parameter::whole('Voices', '', 1, self::MAX_VOICES, self::MAX_VOICES),
            'strength' => Parameter::number('Strength to the level', '', 0.0, 4.0, 1.5, 0.05, 2),
        ];
    }

    public function settings(): array
    {
        return array_intersect_key(get_object_vars($this), self::parameters());
    }

    public function inner(): array
    {
        return $this->treatment->parts();
    }

    public function withInner(string $path, Settable $inner): static
    {
        return $this->with(['treatment' => $this->treatment->withPart($path, $inner)]);
    }

    public function with(array $changed): static
    {
        /** @var array{sample: string, start: int, end: int, rootCents: int, channel: string, single: bool, held: bool, levelDb: float, low: int, high: int, glideMs: int, loopStart: int|null, loopEnd: int|null, even: bool, voices: int, strength: float, treatment: Treatment} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /**
     * With its places where they came to lie; a loop that does not hold together any more goes.
     *
     * @param callable(int): int $moved
     */
    public function moved(int $start, int $end, callable $moved): self
    {
        return $this->with(['start' => $start, 'end' => $end, ...Loop::moved($this->loopStart, $this->loopEnd, $start, $end, $moved)]);
    }

    /** By how many cents a note lies above the recording, or null when it is out of reach. */
    public function tuneCents(int $pitch): ?int
    {
        $cents = 100 * $pitch - $this->rootCents;

        return $pitch < $this->low || $pitch > $this->high || abs($cents) > 100 * self::REACH ? null : $cents;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        /** @var array<string, mixed> $plain */
        $plain = [...get_object_vars($this), 'treatment' => (object) $this->treatment->toArray()];

        return $plain;
    }
}
