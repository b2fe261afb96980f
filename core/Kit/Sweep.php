<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** A pitch envelope: from the sound's own pitch to so many cents above or below it, and back. Without an attack it begins there. */
final readonly class Sweep implements Settable
{
    use Settings;

    public const MOST_CENTS = 4800.0;

    /** @param float $bend of the way back: 0 even in cents, above 0 fast first, below 0 last */
    public function __construct(public float $cents = 0.0, public float $attackMs = 0.0, public float $decayMs = 60.0, public float $bend = 0.5)
    {
    }

    public static function parameters(): array
    {
        return [
            'cents' => Parameter::number('Pitch sweep', 'cents', -self::MOST_CENTS, self::MOST_CENTS, 0.0, 10.0, 0)->moving(),
            'attackMs' => Parameter::number('Attack of the pitch', 'ms', 0.0, 5000.0, 0.0, 1.0)->bent(3.0)->moving(),
            'decayMs' => Parameter::number('Decay of the pitch', 'ms', 1.0, 5000.0, 60.0, 1.0)->bent(3.0)->moving(),
            'bend' => Parameter::number('Bend of the pitch', '', -1.0, 1.0, 0.5, 0.05, 2)->moving(),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{cents: float, attackMs: float, decayMs: float, bend: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
