<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * One sound of a pad: a stretch of a sample (frames of the source, end exclusive), its level, place and tuning beside
 * the pad's own, and the strengths it answers.
 */
final readonly class Layer implements Settable
{
    use Settings;

    /** Opcodes that are kept for others: how many, and how long each. */
    public const MOST_KEPT = 40;
    public const LONGEST_KEPT = 200;
    public const MOST_DELAY_MS = 2000.0;

    /**
     * @param int                   $low       softest strike it answers, 1 to 127
     * @param int                   $high      hardest one
     * @param int|null              $loopStart first frame of the sample that goes round while the pad is held, and with it
     * @param int|null              $loopEnd   the one after the last; null for neither
     * @param array<string, string> $kept      what a file of another program said of it that Pestle has no use for, to be written back
     */
    public function __construct(
        public string $name,
        public string $sample,
        public int $start,
        public int $end,
        public float $levelDb = 0.0,
        public float $pan = 0.0,
        public int $tuneCents = 0,
        public bool $reversed = false,
        public float $delayMs = 0.0,
        public int $low = 1,
        public int $high = 127,
        public ?int $loopStart = null,
        public ?int $loopEnd = null,
        public array $kept = [],
    ) {
        if ($start < 0 || $end <= $start) {
            throw new \InvalidArgumentException(\sprintf('%s: the end of its sound must lie after its start.', $name));
        }
        if ((null === $loopStart) !== (null === $loopEnd) || (null !== $loopStart && ($loopStart < $start || $loopEnd <= $loopStart || $loopEnd > $end))) {
            throw new \InvalidArgumentException(\sprintf('%s: its loop must lie within its sound, the end after the start.', $name));
        }
        if ($low > $high) {
            throw new \InvalidArgumentException(\sprintf('%s: the softest strike it answers must not be harder than the hardest.', $name));
        }
    }

    public static function parameters(): array
    {
        return [
            'levelDb' => Parameter::number('Level', 'dB', -60.0, 12.0, 0.0, 0.5)->moving(),
            'pan' => Parameter::number('Pan', '', -1.0, 1.0, 0.0, 0.05, 2)->moving(),
            'tuneCents' => Parameter::whole('Tune', 'cents', -Pad::MAX_TUNE_CENTS, Pad::MAX_TUNE_CENTS, 0)->moving(),
            'reversed' => Parameter::onOff('Direction'),
            'delayMs' => Parameter::number('Delay', 'ms', 0.0, self::MOST_DELAY_MS, 0.0, 1.0)->bent(2.0)->moving(),
            'low' => Parameter::whole('Softest strike', '', 1, 127, 1),
            'high' => Parameter::whole('Hardest strike', '', 1, 127, 127),
        ];
    }

    /** One end of the strengths it answers takes the other along where it passes it. */
    public function with(array $changed): static
    {
        if (isset($changed['low']) !== isset($changed['high'])) {
            $changed += isset($changed['low']) ? ['high' => max($this->high, $changed['low'])] : ['low' => min($this->low, $changed['high'] ?? 127)];
        }
        /** @var array{name: string, sample: string, start: int, end: int, levelDb: float, pan: float, tuneCents: int, reversed: bool, delayMs: float, low: int, high: int, loopStart: int|null, loopEnd: int|null, kept: array<string, string>} $all */
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

    /**
     * How much of it answers a strike, 0 to 1. Over so many strengths around an edge it has in common with others, it
     * fades at equal power.
     */
    public function share(int $velocity, int $crossfade): float
    {
        return Crossfade::share($velocity, $this->low, $this->high, $crossfade, 1);
    }

    /** @return array<string, mixed> what differs from a plain stretch only where it does */
    public function toArray(): array
    {
        $plain = ['name' => $this->name, 'sample' => $this->sample, 'start' => $this->start, 'end' => $this->end];
        foreach (self::parameters() as $field => $parameter) {
            if ($this->settings()[$field] !== $parameter->default) {
                $plain[$field] = $this->settings()[$field];
            }
        }

        if (null !== $this->loopStart) {
            $plain = [...$plain, 'loopStart' => $this->loopStart, 'loopEnd' => $this->loopEnd];
        }

        return [] === $this->kept ? $plain : [...$plain, 'kept' => $this->kept];
    }
}
