<?php

namespace Pestle\Core\Theory;

/** How far what is played lies beside A = 440 Hz: records that turn too fast are sharp. */
final readonly class Tuning
{
    /** Less than this nobody hears, and nothing is heard that exactly. */
    private const HEARD_CENTS = 5.0;

    private function __construct(public float $cents)
    {
    }

    /** @param float $cents any; what counts is how far off the nearest semitone it is */
    public static function cents(float $cents): self
    {
        return new self($cents - 100.0 * round($cents / 100.0));
    }

    public function isOff(): bool
    {
        return abs($this->cents) >= self::HEARD_CENTS;
    }

    /** "34 cents sharp", "20 cents flat"; empty where it is in tune. */
    public function words(): string
    {
        return $this->isOff() ? \sprintf('%d cents %s', round(abs($this->cents)), $this->cents > 0.0 ? 'sharp' : 'flat') : '';
    }

    /** A key with how it is tuned: "A minor, 34 cents sharp". */
    public function of(Key $key): string
    {
        return $this->isOff() ? $key->name().', '.$this->words() : $key->name();
    }
}
