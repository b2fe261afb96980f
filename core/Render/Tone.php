<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Mix\Formants;
use Pestle\Core\Signal\Bend;
use Pestle\Core\Signal\SoftLimit;
use Pestle\Core\Signal\StateVariable;

/** The filter of one voice: drive, then one or two state-variable filters whose cut-off moves every STEP frames. */
final readonly class Tone
{
    private const STEP = StateVariable::STEP;
    /** Q without resonance, and by how many octaves full resonance raises it. */
    private const BUTTERWORTH = 0.70710678118655;
    private const OCTAVES = 5.0;
    /** Q of the two halves of a steep filter without resonance: fourth-order Butterworth. */
    private const STEEP = [0.54119610014620, 1.30656296487638];
    /** Share of the sample rate that a cut-off may reach. */
    private const HIGHEST = 0.48;

    public string $signature;
    private int $attack;
    private int $decay;

    /**
     * @param float         $cents by how much strength and key move the cut-off of this voice
     * @param list<Swaying> $lfos
     * @param int|null      $held  frames until the voice is let go, where that moves the cut-off
     */
    private function __construct(private Filter $filter, private float $cents, private array $lfos, private ?int $held)
    {
        $this->attack = Contour::frames($filter->attackMs);
        $this->decay = max(1, Contour::frames($filter->decayMs));
        $this->signature = implode(' ', [$filter->shape->value, (int) $filter->steep, $filter->cutoffHz, $filter->resonance, $filter->driveDb, $cents, $filter->envelopeCents, $this->attack, $this->decay, $filter->sustain, ...array_map(static fn (Swaying $s): string => $s->name(), $lfos), ...null === $held ? [] : ['let go', $held, $filter->releaseMs]]);
    }

    /** @param list<Swaying> $lfos */
    public static function of(Filter $filter, AtStrike $strike, array $lfos): ?self
    {
        $goes = $filter->releaseMs > 0.0 && 0.0 !== $filter->envelopeCents;

        return $filter->acts() ? new self($filter, $filter->strengthCents * $strike->velocity / 127.0 + $filter->keyTracking * $strike->keyCents, $lfos, $goes ? $strike->held : null) : null;
    }

    /** Frames that are wanted before and after a block. */
    public function margin(): int
    {
        return $this->filter->driveDb > 0.0 ? SoftLimit::MARGIN : 0;
    }

    /** Gain of a filter set still, at a frequency: what its picture shows. */
    public static function response(Filter $filter, float $hz): float
    {
        if (FilterShape::Vowel === $filter->shape) {
            return VowelTone::response($filter->cutoffHz, Formants::q($filter->resonance), $hz);
        }
        $gain = 1.0;
        foreach (self::qualities($filter) as $q) {
            // The analogue filter where the bilinear transform puts this frequency.
            $w = tan(\M_PI * $hz / Beat::SAMPLE_RATE) / self::warped($filter->cutoffHz);
            [$dry, $band, $low] = self::mix($filter->shape, 1.0 / $q);
            // dry s² + ... over s² + s/Q + 1, with what the state has: band s, low 1.
            $real = $dry * (1.0 - $w * $w) + $low;
            $imaginary = $w * ($dry / $q + $band);
            $gain *= sqrt(($real ** 2 + $imaginary ** 2) / ((1.0 - $w * $w) ** 2 + ($w / $q) ** 2));
        }

        return $gain;
    }

    /**
     * A block of a voice, which begins at a multiple of STEP frames after its first.
     *
     * @param StereoBlock $in    with as many frames more on both sides as margin() says
     * @param int         $at    frame of the voice from the strike on, of the block's first
     * @param list<float> $state as it was before; none at the start
     *
     * @return array{StereoBlock, list<float>} the sound and the state after it
     */
    public function process(StereoBlock $in, int $at, array $state): array
    {
        $own = FilterShape::Vowel === $this->filter->shape ? VowelTone::VALUES : 4;
        $state = [] === $state ? array_fill(0, 2 * $own, 0.0) : $state;
        $cutoffs = FilterShape::Off === $this->filter->shape ? [] : $this->cutoffs($at, intdiv($in->frames() - 2 * $this->margin() + self::STEP - 1, self::STEP));
        [$left, $after] = $this->side($in->left, $cutoffs, \array_slice($state, 0, $own));
        if ($in->left === $in->right && \array_slice($state, 0, $own) === \array_slice($state, $own)) {
            return [new StereoBlock($left, $left), [...$after, ...$after]];
        }
        [$right, $last] = $this->side($in->right, $cutoffs, \array_slice($state, $own));

        return [new StereoBlock($left, $right), [...$after, ...$last]];
    }

    /**
     * @param list<float> $signal
     * @param list<float> $warped tan(pi hz / rate) for every STEP frames; of a vowel Hz
     * @param list<float> $state  two values of each filter
     *
     * @return array{list<float>, list<float>}
     */
    private function side(array $signal, array $warped, array $state): array
    {
        if ($this->filter->driveDb > 0.0) {
            $signal = SoftLimit::through($signal, 10.0 ** ($this->filter->driveDb / 20.0));
        }
        if (FilterShape::Vowel === $this->filter->shape) {
            return VowelTone::side($signal, $warped, Formants::q($this->filter->resonance), $state);
        }
        $qualities = [] === $warped ? [] : self::qualities($this->filter);
        $shape = $this->filter->shape;
        if (2 === \count($qualities)) {
            [$k, $l] = [1.0 / $qualities[0], 1.0 / $qualities[1]];

            return StateVariable::pair($signal, $warped, [$k, $l], self::mix($shape, $k), self::mix($shape, $l), $state);
        }
        if (1 === \count($qualities)) {
            $k = 1.0 / $qualities[0];
            [$signal, $state[0], $state[1]] = StateVariable::filter($signal, $warped, $k, self::mix($shape, $k), $state[0], $state[1]);
        }

        return [$signal, array_values($state)];
    }

    /** @return list<float> */
    private static function qualities(Filter $filter): array
    {
        $raised = 2.0 ** (self::OCTAVES * $filter->resonance);

        return match (true) {
            \in_array($filter->shape, [FilterShape::Off, FilterShape::Vowel], true) => [],
            !$filter->steep => [self::BUTTERWORTH * $raised],
            // Band and notch are the same filter twice; of the others one half stays as it is.
            FilterShape::Low === $filter->shape, FilterShape::High === $filter->shape => [self::STEEP[0], self::STEEP[1] * $raised],
            default => [self::BUTTERWORTH * $raised, self::BUTTERWORTH * $raised],
        };
    }

    /** @return array{float, float, float} how much of the sound itself, of the band and of the low-pass comes out */
    private static function mix(FilterShape $shape, float $k): array
    {
        return match ($shape) {
            FilterShape::Low => [0.0, 0.0, 1.0],
            FilterShape::High => [1.0, -$k, -1.0],
            FilterShape::Band => [0.0, $k, 0.0],
            FilterShape::Notch => [1.0, -$k, 0.0],
            FilterShape::Off, FilterShape::Vowel => [1.0, 0.0, 0.0],
        };
    }

    /** @return list<float> tan(pi hz / rate) for each step; of a vowel Hz */
    private function cutoffs(int $at, int $steps): array
    {
        $f = $this->filter;
        if (0.0 === $f->envelopeCents && [] === $this->lfos) {
            $hz = $f->cutoffHz * 2.0 ** ($this->cents / 1200.0);

            return array_fill(0, $steps, FilterShape::Vowel === $f->shape ? $hz : self::warped($hz));
        }
        $moved = 0.0 === $f->envelopeCents ? array_fill(0, $steps, $this->cents) : self::risen($this->envelope($at, $steps), $f->envelopeCents, $this->cents);
        foreach ($this->lfos as $lfo) {
            foreach ($lfo->values(intdiv($at, self::STEP), $steps) as $k => $value) {
                $moved[$k] += $value;
            }
        }

        if (FilterShape::Vowel === $f->shape) {
            return array_map(static fn (float $cents): float => $f->cutoffHz * 2.0 ** ($cents / 1200.0), array_values($moved));
        }

        return self::allWarped(array_values($moved), \M_PI * $f->cutoffHz / Beat::SAMPLE_RATE);
    }

    /**
     * @param list<float> $shares
     *
     * @return list<float>
     */
    private static function risen(array $shares, float $far, float $cents): array
    {
        foreach ($shares as $k => $share) {
            $shares[$k] = $cents + $far * $share;
        }

        return array_values($shares);
    }

    /**
     * As warped(), of many: this is what a moving filter costs beside itself.
     *
     * @param list<float> $cents
     * @param float       $angle of the cut-off as it is set
     *
     * @return list<float>
     */
    private static function allWarped(array $cents, float $angle): array
    {
        $octave = log(2.0) / 1200.0;
        [$least, $most] = [\M_PI * Filter::LOWEST_HZ / Beat::SAMPLE_RATE, \M_PI * self::HIGHEST];
        foreach ($cents as $k => $c) {
            $w = $angle * exp($octave * $c);
            $cents[$k] = tan($w < $least ? $least : ($w > $most ? $most : $w));
        }

        return array_values($cents);
    }

    /** @return list<float> the envelope at every step, 0 to 1 */
    private function envelope(int $at, int $steps): array
    {
        $values = $this->whileHeld($at, $steps);
        $last = $at + ($steps - 1) * self::STEP;
        if (null !== $this->held && $last > $this->held) {
            $top = $this->whileHeld($this->held, 1)[0];
            foreach ($values as $k => $value) {
                $since = $at + $k * self::STEP - $this->held;
                $values[$k] = $since <= 0 ? $value : $top * (1.0 - Bend::at(min(1.0, $since / max(1, Contour::frames($this->filter->releaseMs))), 0.5));
            }
        }

        return array_values($values);
    }

    /** @return list<float> */
    private function whileHeld(int $at, int $steps): array
    {
        $values = [];
        for ($k = 0; $k < $steps; $k += $n) {
            $frame = $at + $k * self::STEP;
            if ($frame < $this->attack || $frame < 0) {
                $n = min($steps - $k, max(1, (int) ceil((max(0, $this->attack) - $frame) / self::STEP)));
                for ($i = 0; $i < $n; ++$i) {
                    $values[] = $this->attack < 1 ? 1.0 : max(0.0, ($frame + $i * self::STEP) / $this->attack);
                }
            } elseif ($frame - $this->attack < $this->decay) {
                $n = min($steps - $k, (int) ceil(($this->attack + $this->decay - $frame) / self::STEP));
                array_push($values, ...Bend::every(1.0, $this->filter->sustain, $this->decay, 0.5, $frame - $this->attack, self::STEP, $n));
            } else {
                $n = $steps - $k;
                array_push($values, ...array_fill(0, $n, $this->filter->sustain));
            }
        }

        return $values;
    }

    private static function warped(float $hz): float
    {
        return tan(\M_PI * max(Filter::LOWEST_HZ / Beat::SAMPLE_RATE, min(self::HIGHEST, $hz / Beat::SAMPLE_RATE)));
    }
}
