<?php

namespace Pestle\Core\Mix;

/** How overtones come about. */
enum SaturationCurve: string
{
    case Soft = 'soft';
    case Tape = 'tape-like';
    case Folded = 'folded';
    case Hard = 'hard';

    /** Which of Saturator's curves it goes by. */
    public function number(): int
    {
        return match ($this) {
            self::Soft, self::Tape => Saturator::SOFT,
            self::Folded => Saturator::FOLDED,
            self::Hard => Saturator::HARD,
        };
    }

    /** What is added before the curve: beside its middle it makes even overtones too. */
    public function bias(): float
    {
        return self::Tape === $this ? 0.25 : 0.0;
    }

    /** What comes out for what goes in, without the means that keep aliases away: for its picture. */
    public function at(float $x): float
    {
        return match ($this) {
            self::Soft => $x / sqrt(1.0 + $x * $x),
            self::Tape => ($x + 0.25) / sqrt(1.0 + ($x + 0.25) ** 2) - 0.25 / sqrt(1.0 + 0.25 ** 2),
            self::Folded => sin($x),
            self::Hard => max(-1.0, min(1.0, $x)),
        };
    }
}
