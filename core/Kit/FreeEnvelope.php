<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** A second envelope of a sound, which moves what is wished: it waits, rises, stays, falls to a level and goes back when the sound is let go. */
final readonly class FreeEnvelope implements Settable
{
    use Settings;

    public const MOST_DEPTH = 9600.0;

    /**
     * @param float $depth     at its top: percent of level and pan, cents of pitch and cut-off
     * @param float $sustain   where it stays while the sound is held, 0 to 1
     * @param float $releaseMs in which it goes back when the sound is let go; 0 where it then stays
     * @param float $bend      of its ways: 0 straight, above 0 fast first, below 0 last
     */
    public function __construct(
        public LfoTarget $target = LfoTarget::None,
        public float $depth = 0.0,
        public float $delayMs = 0.0,
        public float $attackMs = 0.0,
        public float $holdMs = 0.0,
        public float $decayMs = 200.0,
        public float $sustain = 0.0,
        public float $releaseMs = 0.0,
        public float $bend = 0.5,
    ) {
    }

    public static function parameters(): array
    {
        $time = static fn (string $name, float $default = 0.0): Parameter => Parameter::number($name, 'ms', 0.0, Envelope::MOST_MS, $default, 1.0)->bent(3.0)->moving();

        return [
            'target' => Parameter::choice('Second envelope moves', LfoTarget::None),
            'depth' => Parameter::number('Depth of the second envelope', '', -self::MOST_DEPTH, self::MOST_DEPTH, 0.0, 1.0, 0)->moving(),
            'delayMs' => $time('Delay of the second envelope'),
            'attackMs' => $time('Attack of the second envelope'),
            'holdMs' => $time('Hold of the second envelope'),
            'decayMs' => $time('Decay of the second envelope', 200.0),
            'sustain' => Parameter::number('Sustain of the second envelope', '', 0.0, 1.0, 0.0, 0.01, 2)->moving(),
            'releaseMs' => $time('Release of the second envelope'),
            'bend' => Parameter::number('Bend of the second envelope', '', -1.0, 1.0, 0.5, 0.05, 2)->moving(),
        ];
    }

    public function acts(): bool
    {
        return LfoTarget::None !== $this->target && 0.0 !== $this->depth;
    }

    public function with(array $changed): static
    {
        /** @var array{target: LfoTarget, depth: float, delayMs: float, attackMs: float, holdMs: float, decayMs: float, sustain: float, releaseMs: float, bend: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
