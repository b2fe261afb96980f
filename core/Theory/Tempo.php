<?php

namespace Pestle\Core\Theory;

/** A tempo in quarter notes a minute, 20 to 300; where it is set, to a hundredth. */
final readonly class Tempo
{
    /** Slower than what is offered: older beats may have it. */
    public const MIN = 20.0;
    public const SLOWEST = 30.0;
    public const MAX = 300.0;

    private function __construct(public float $bpm)
    {
    }

    /** @throws \InvalidArgumentException outside 20 to 300 */
    public static function bpm(float $bpm): self
    {
        if (!($bpm >= self::MIN && $bpm <= self::MAX)) {
            throw new \InvalidArgumentException(\sprintf('Tempo must lie between %d and %d BPM.', self::MIN, self::MAX));
        }

        return new self(round($bpm, 2));
    }

    /** On the way from one to another: as it is, within the bounds. */
    public static function passing(float $bpm): self
    {
        return new self(max(self::MIN, min(self::MAX, $bpm)));
    }

    public function seconds(float $ticks): float
    {
        return $ticks * 60.0 / (Ticks::PER_QUARTER * $this->bpm);
    }

    /** Whole frames at $sampleRate (Hz), rounded once from the exact time. */
    public function frames(float $ticks, int $sampleRate): int
    {
        return (int) round($this->seconds($ticks) * $sampleRate);
    }

    public function ticks(float $seconds): int
    {
        return (int) round($this->exactTicks($seconds));
    }

    public function exactTicks(float $seconds): float
    {
        return $seconds * $this->bpm * Ticks::PER_QUARTER / 60.0;
    }
}
