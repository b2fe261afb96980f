<?php

namespace Pestle\Core\Kit;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/**
 * A slow oscillation that moves something of a sound, from the strike or some time after it. Free it has a frequency;
 * in time, a length in ticks.
 */
final readonly class Lfo implements Settable
{
    use Settings;

    /**
     * @param float $depth  to either side: percent of level and pan, cents of pitch and cut-off
     * @param int   $ticks  of one round; 0 for free
     * @param float $fadeMs over which it comes in after its delay
     * @param bool  $common the same for all notes, as it runs from the start of what plays; else each note begins its own
     */
    public function __construct(
        public LfoTarget $target = LfoTarget::None,
        public LfoShape $shape = LfoShape::Sine,
        public float $hz = 5.0,
        public int $ticks = 0,
        public float $depth = 20.0,
        public float $delayMs = 0.0,
        public float $fadeMs = 0.0,
        public bool $common = false,
    ) {
    }

    public static function parameters(): array
    {
        return [
            'target' => Parameter::choice('Moves', LfoTarget::None),
            'shape' => Parameter::choice('Shape of the movement', LfoShape::Sine),
            'hz' => Parameter::number('Rate', 'Hz', 0.02, 40.0, 5.0, 0.01, 2)->bent(3.0)->moving(),
            'ticks' => Parameter::whole('Rate in time', 'ticks', 0, 61_440, 0),
            'depth' => Parameter::number('Depth', '', 0.0, 4800.0, 20.0, 1.0)->bent(2.0)->moving(),
            'delayMs' => Parameter::number('Delay of the movement', 'ms', 0.0, 10_000.0, 0.0, 1.0)->bent(3.0)->moving(),
            'fadeMs' => Parameter::number('Movement fades in', 'ms', 0.0, 10_000.0, 0.0, 1.0)->bent(3.0)->moving(),
            'common' => Parameter::onOff('The same for all notes'),
        ];
    }

    public function acts(): bool
    {
        return LfoTarget::None !== $this->target && $this->depth > 0.0;
    }

    public function with(array $changed): static
    {
        /** @var array{target: LfoTarget, shape: LfoShape, hz: float, ticks: int, depth: float, delayMs: float, fadeMs: float, common: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
