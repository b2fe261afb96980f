<?php

namespace Pestle\Core\Pattern;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;
use Pestle\Core\Theory\Swing;
use Pestle\Core\Theory\Ticks;

/**
 * How what is written is played: drawn to a grid, laid over a groove, swung, early or late, louder and softer. Nothing
 * of it changes what is written; it can be taken off, or written into hits and notes.
 */
final readonly class Feel implements Settable
{
    use Settings;

    /**
     * @param bool    $on           off, everything is played as it is written
     * @param float   $quantise     how far everything is drawn to the grid, in percent
     * @param int     $grid         ticks of the grid
     * @param float   $window       what lies further from the grid than so many percent of half of it stays
     * @param bool    $ends         whether ends of notes are drawn to the grid as well
     * @param float   $swing        percent of a pair that its first half takes; 50 is straight
     * @param float   $shiftTicks   later, or before 0 earlier
     * @param float   $shiftMs      the same in milliseconds
     * @param float   $timingMs     furthest that chance moves a hit either way
     * @param float   $spread       how far strengths lie from their middle, in percent: 0 makes all alike, above 100 they are driven apart
     * @param int     $middle       strength that stays where it is
     * @param Scatter $scatter      how chance changes strengths
     * @param int     $around       most it adds or takes
     * @param int     $softest      least it gives, between two values
     * @param int     $hardest      most it gives
     * @param string  $groove       id of a groove; empty for none
     * @param float   $grooveTiming how far a groove moves hits, in percent
     * @param float   $grooveLevel  how far strengths follow it, in percent
     */
    public function __construct(
        public bool $on = true,
        public float $quantise = 0.0,
        public int $grid = Ticks::PER_STEP,
        public float $window = 100.0,
        public bool $ends = false,
        public float $swing = 50.0,
        public SwingOn $swingOn = SwingOn::Sixteenths,
        public float $shiftTicks = 0.0,
        public float $shiftMs = 0.0,
        public float $timingMs = 0.0,
        public float $spread = 100.0,
        public int $middle = 80,
        public Scatter $scatter = Scatter::None,
        public int $around = 12,
        public int $softest = 60,
        public int $hardest = 110,
        public string $groove = '',
        public float $grooveTiming = 100.0,
        public float $grooveLevel = 50.0,
    ) {
        if ($softest > $hardest) {
            throw new \InvalidArgumentException('The softest strength that chance gives must not be above the hardest.');
        }
    }

    public static function parameters(): array
    {
        return [
            'on' => Parameter::onOff('Feel', true),
            'quantise' => Parameter::number('Quantise', '%', 0.0, 100.0, 0.0, 1.0, 0),
            'grid' => Parameter::whole('Grid', 'ticks', 15, 3840, Ticks::PER_STEP),
            'window' => Parameter::number('Window', '%', 0.0, 100.0, 100.0, 1.0, 0),
            'ends' => Parameter::onOff('Ends'),
            'swing' => Parameter::number('Swing', '%', 50.0, 75.0, 50.0, 0.5),
            'swingOn' => Parameter::choice('Swing on', SwingOn::Sixteenths),
            'shiftTicks' => Parameter::number('Late', 'ticks', -240.0, 240.0, 0.0, 1.0, 0),
            'shiftMs' => Parameter::number('Late', 'ms', -100.0, 100.0, 0.0, 0.5),
            'timingMs' => Parameter::number('Loose', 'ms', 0.0, 50.0, 0.0, 0.5),
            'spread' => Parameter::number('Spread of strengths', '%', 0.0, 200.0, 100.0, 1.0, 0),
            'middle' => Parameter::whole('Middle', '', 1, 127, 80),
            'scatter' => Parameter::choice('Chance', Scatter::None),
            'around' => Parameter::whole('Around', '', 0, 64, 12),
            'softest' => Parameter::whole('Softest', '', 1, 127, 60),
            'hardest' => Parameter::whole('Hardest', '', 1, 127, 110),
            'grooveTiming' => Parameter::number('Groove moves', '%', 0.0, 150.0, 100.0, 1.0, 0),
            'grooveLevel' => Parameter::number('Groove in strength', '%', 0.0, 150.0, 50.0, 1.0, 0),
        ];
    }

    /** One end of the strengths that chance gives takes the other along where it passes it. */
    public function with(array $changed): static
    {
        if (isset($changed['softest']) !== isset($changed['hardest'])) {
            $changed += isset($changed['softest']) ? ['hardest' => max($this->hardest, $changed['softest'])] : ['softest' => min($this->softest, $changed['hardest'] ?? 127)];
        }
        /** @var array{on: bool, quantise: float, grid: int, window: float, ends: bool, swing: float, swingOn: SwingOn, shiftTicks: float, shiftMs: float, timingMs: float, spread: float, middle: int, scatter: Scatter, around: int, softest: int, hardest: int, groove: string, grooveTiming: float, grooveLevel: float} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function pairs(): Swing
    {
        return Swing::percent($this->on ? $this->swing : 50.0, $this->swingOn->ticks());
    }

    /** Whether everything is played as it is written. */
    public function isPlain(): bool
    {
        return !$this->on || (50.0 === $this->swing && $this->isOnlySwing());
    }

    /** Whether it does nothing but swing, if that. */
    public function isOnlySwing(): bool
    {
        return 0.0 === $this->quantise && 0.0 === $this->shiftTicks && 0.0 === $this->shiftMs && 0.0 === $this->timingMs
            && 100.0 === $this->spread && Scatter::None === $this->scatter && '' === $this->groove;
    }

    /** @return array<string, mixed> only what was set */
    public function toArray(): array
    {
        $set = '' === $this->groove ? [] : ['groove' => $this->groove];
        foreach (self::parameters() as $field => $parameter) {
            $value = $this->settings()[$field];
            if ($value !== $parameter->default) {
                $set[$field] = $value instanceof \BackedEnum ? $value->value : $value;
            }
        }

        return $set;
    }
}
