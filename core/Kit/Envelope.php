<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * How loud a sound is from the strike on: it may wait, rises, stays, falls to a level at which it stays while it is held, and dies
 * away when it is let go. Each way may be bent: 0 is straight, above 0 it moves fast first, below 0 last.
 */
final readonly class Envelope implements Settable
{
    use Settings;

    public const MOST_MS = 20_000.0;

    /** @param float $sustain level while it is held, 0 to 1 */
    public function __construct(
        public float $attackMs = 0.0,
        public float $holdMs = 0.0,
        public float $decayMs = 0.0,
        public float $sustain = 1.0,
        public float $releaseMs = 0.0,
        public float $attackBend = 0.0,
        public float $decayBend = 0.5,
        public float $releaseBend = 0.5,
        public float $delayMs = 0.0,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'attackMs' => Parameter::number('Attack', 'ms', 0.0, self::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
            'holdMs' => Parameter::number('Hold', 'ms', 0.0, self::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
            'decayMs' => Parameter::number('Decay', 'ms', 0.0, self::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
            'sustain' => Parameter::number('Sustain', '', 0.0, 1.0, 1.0, 0.01, 2)->moving(),
            'releaseMs' => Parameter::number('Release', 'ms', 0.0, self::MOST_MS, 0.0, 1.0)->bent(3.0)->moving(),
            'attackBend' => Parameter::number('Bend of the attack', '', -1.0, 1.0, 0.0, 0.05, 2)->moving(),
            'decayBend' => Parameter::number('Bend of the decay', '', -1.0, 1.0, 0.5, 0.05, 2)->moving(),
            'releaseBend' => Parameter::number('Bend of the release', '', -1.0, 1.0, 0.5, 0.05, 2)->moving(),
            'delayMs' => Parameter::number('Delay of the attack', 'ms', 0.0, 5000.0, 0.0, 1.0)->bent(3.0)->moving(),
        ];
    }

    /** Whether a sound stays as loud as it is until it is let go. */
    public function isFlat(): bool
    {
        return 0.0 === $this->delayMs && 0.0 === $this->attackMs && (1.0 === $this->sustain || (0.0 === $this->holdMs && 0.0 === $this->decayMs));
    }

    public function with(array $changed): static
    {
        /** @var array{attackMs: float, holdMs: float, decayMs: float, sustain: float, releaseMs: float, attackBend: float, decayBend: float, releaseBend: float, delayMs: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
