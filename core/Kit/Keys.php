<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** An instrument made of one recording: a stretch of a sample, played higher and lower from its root. */
final readonly class Keys implements Settable
{
    use Settings;

    private const HIGHEST = 127;
    /** Notes the recording can be moved by either way, in semitones. */
    public const REACH = 60;

    /**
     * @param int      $start     first frame of the sample that plays
     * @param int      $end       the one after the last
     * @param int      $rootCents pitch of the recording: MIDI number times 100, and what it is off by
     * @param bool     $single    one note at a time, each cuts the one before
     * @param int|null $loopStart first frame of the sample that goes round while a note is held, and with it
     * @param int|null $loopEnd   the one after the last; null for neither
     * @param int      $glideMs   how long a note takes from the pitch of the one before to its own, where they come one at a time
     * @param bool     $even      whether all notes last as long as the recording; else high ones are shorter and low ones longer
     * @param bool     $held      as long as the note is held, then the release; else to its end
     */
    public function __construct(
        public string $sample,
        public int $start,
        public int $end,
        public int $rootCents,
        public string $channel,
        public bool $single = false,
        public bool $held = true,
        public int $releaseMs = 60,
        public float $levelDb = 0.0,
        public int $low = 0,
        public int $high = 127,
        public int $glideMs = 0,
        public ?int $loopStart = null,
        public ?int $loopEnd = null,
        public bool $even = false,
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
            'releaseMs' => Parameter::whole('Release', 'ms', 0, 4000, 60),
            'glideMs' => Parameter::whole('Glide', 'ms', 0, 2000, 0),
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5),
            'low' => Parameter::whole('Lowest note', '', 0, self::HIGHEST, 0),
            'high' => Parameter::whole('Highest note', '', 0, self::HIGHEST, self::HIGHEST),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{sample: string, start: int, end: int, rootCents: int, channel: string, single: bool, held: bool, releaseMs: int, levelDb: float, low: int, high: int, glideMs: int, loopStart: int|null, loopEnd: int|null, even: bool} $all */
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
        [$from, $to] = null === $this->loopStart || null === $this->loopEnd ? [0, 0] : [max($start, $moved($this->loopStart)), min($end, $moved($this->loopEnd))];

        return $this->with(['start' => $start, 'end' => $end, 'loopStart' => $to > $from ? $from : null, 'loopEnd' => $to > $from ? $to : null]);
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
        $plain = get_object_vars($this);

        return $plain;
    }
}
