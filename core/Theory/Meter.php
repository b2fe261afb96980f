<?php

namespace Pestle\Core\Theory;

/** How many beats a bar has and what note a beat is: 4/4, 6/8, 7/16 and the like. */
final readonly class Meter
{
    public const MAX_BEATS = 32;
    public const UNITS = [4, 8, 16];
    /** Six eighths are counted in two up to this tempo. */
    private const SLOW_BPM = 100.0;
    /** Those that are offered first. */
    public const COMMON = ['4/4', '3/4', '5/4', '6/8', '7/8', '12/8'];
    /** Those that a recording can be said to have. */
    public const OF_RECORDINGS = ['4/4', '2/4', '3/4', '5/4', '6/4', '7/4', '6/8', '7/8', '9/8', '12/8'];

    private function __construct(public int $beats, public int $unit)
    {
    }

    /** @throws \InvalidArgumentException when it is none of n/4, n/8, n/16 with 1 to 32 beats */
    public static function of(int $beats, int $unit): self
    {
        if ($beats < 1 || $beats > self::MAX_BEATS || !\in_array($unit, self::UNITS, true)) {
            throw new \InvalidArgumentException(\sprintf('A meter has 1 to %d beats of 4ths, 8ths or 16ths, as in 4/4, 6/8 or 7/16.', self::MAX_BEATS));
        }

        return new self($beats, $unit);
    }

    public static function named(string $name): self
    {
        return preg_match('~^(\d{1,2})/(\d{1,2})$~', $name, $m) ? self::of((int) $m[1], (int) $m[2]) : self::of(0, 0);
    }

    public function name(): string
    {
        return $this->beats.'/'.$this->unit;
    }

    /** Eighths or sixteenths that go by threes: 6/8, 9/8, 12/8. */
    public function isInThrees(): bool
    {
        return 4 !== $this->unit && 0 === $this->beats % 3 && $this->beats >= 6;
    }

    /** Quarters in a bar. */
    public function quarters(): float
    {
        return 4.0 * $this->beats / $this->unit;
    }

    public function barTicks(): int
    {
        return $this->beats * intdiv(4 * Ticks::PER_QUARTER, $this->unit);
    }

    /** Ticks between clicks: a dotted note where eighths or sixteenths go by threes, else the unit. */
    public function beatTicks(): int
    {
        return ($this->isInThrees() ? 3 : 1) * intdiv(4 * Ticks::PER_QUARTER, $this->unit);
    }

    /** Beats that are counted in a bar at a tempo: twelve eighths are four, six are two where it is slow and six where it is not. */
    public function countedBeats(float $bpm): int
    {
        $counted = intdiv($this->barTicks(), $this->beatTicks());

        return 2 === $counted && 6 === $this->beats && $bpm > self::SLOW_BPM ? 6 : $counted;
    }

    /** Whole bars that hold so many ticks, at least one. */
    public function bars(float $ticks): int
    {
        return max(1, (int) ceil($ticks / $this->barTicks() - 0.001));
    }
}
