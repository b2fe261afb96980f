<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\SincTable;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Signal\Bend;
use Pestle\Core\Signal\StateVariable;

/**
 * How a voice's pitch moves: its sweep, its LFOs and the notes it goes on to, in cents at every STEP frames, evenly in speed between them. Where in the
 * sound a frame lies is the sum of all speeds before it, worked out once and kept.
 */
final class Motion
{
    private const STEP = StateVariable::STEP;
    private const MOST_SHARED = 32;
    /** @var array<string, self> */
    private static array $shared = [];
    /** Most steps that are kept: half an hour. */
    private const MOST_STEPS = 5_000_000;

    public readonly string $signature;
    private readonly int $attack;
    private readonly int $decay;
    private readonly float $fastest;
    /** @var list<float> place at the start of every step */
    private array $places = [0.0];

    /** @param list<Swaying> $lfos */
    private function __construct(private readonly Sweep $sweep, private readonly array $lfos, private readonly ?Slides $slides)
    {
        $this->attack = 0.0 === $sweep->cents ? 0 : Contour::frames($sweep->attackMs);
        $this->decay = max(1, Contour::frames($sweep->decayMs));
        $this->fastest = 2.0 ** ((max(0.0, $sweep->cents) + ($slides->highest ?? 0.0) + array_sum(array_map(static fn (Swaying $s): float => $s->highest(), $lfos))) / 1200.0);
        $this->signature = implode(' ', [$sweep->cents, $this->attack, $this->decay, $sweep->bend, ...array_map(static fn (Swaying $s): string => $s->name(), $lfos), ...null === $slides ? [] : [$slides->signature]]);
    }

    /** @param list<Swaying> $lfos */
    public static function of(Sweep $sweep, array $lfos, ?Slides $slides = null): ?self
    {
        if (0.0 === $sweep->cents && [] === $lfos && null === $slides) {
            return null;
        }
        $motion = new self($sweep, $lfos, $slides);
        // Equal ones share the places they have been to.
        if (!isset(self::$shared[$motion->signature])) {
            self::$shared = \count(self::$shared) < self::MOST_SHARED ? self::$shared : [];
            self::$shared[$motion->signature] = $motion;
        }

        return self::$shared[$motion->signature];
    }

    /** Frames a voice has until so many of its sound have passed. */
    public function framesFor(int $sound): int
    {
        for ($frames = self::STEP; $this->place($frames) < $sound && $frames < self::MOST_STEPS * self::STEP; $frames *= 2) {
        }
        [$low, $high] = [0, $frames];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            if ($this->place($middle) < $sound) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return max(1, $low);
    }

    /**
     * @param int                             $at    frame of the voice; before its start the sound runs as it is
     * @param callable(int, int): StereoBlock $sound gives frames of the sound
     */
    public function read(int $at, int $count, callable $sound): StereoBlock
    {
        $table = SincTable::of(min(1.0, 1.0 / $this->fastest));
        $reach = $table->reach;
        $first = (int) floor($this->place($at)) - $reach + 1;
        $block = $sound($first, (int) floor($this->place($at + $count - 1)) + $reach - $first + 1);
        $same = $block->left === $block->right;
        $left = $right = [];
        for ($n = $at; $n < $at + $count; ++$n) {
            $place = $this->place($n);
            $index = (int) floor($place);
            $phase = ($place - $index) * $table->phases;
            $whole = (int) $phase;
            $from = $index - $reach + 1 - $first;
            $left[] = SincTable::between($block->left, $table->filter($whole), $table->filter($whole + 1), $phase - $whole, $from);
            $right[] = $same ? 0.0 : SincTable::between($block->right, $table->filter($whole), $table->filter($whole + 1), $phase - $whole, $from);
        }

        return new StereoBlock($left, $same ? $left : $right);
    }

    /** Where in the sound a frame of the voice lies. */
    public function place(int $frame): float
    {
        if ($frame <= 0) {
            return (float) $frame;
        }
        $step = intdiv($frame, self::STEP);
        for ($k = \count($this->places); $k <= $step + 1; $k = \count($this->places)) {
            $this->goOn($k - 1);
        }

        return $this->places[$step] + ($this->places[$step + 1] - $this->places[$step]) * ($frame % self::STEP) / self::STEP;
    }

    /** Some more steps, from one on. */
    private function goOn(int $step): void
    {
        $count = 64;
        $cents = [];
        for ($k = 0; $k < $count; ++$k) {
            $middle = ($step + $k + 0.5) * self::STEP;
            $cents[] = $this->swept($middle) + ($this->slides?->at($middle) ?? 0.0);
        }
        foreach ($this->lfos as $lfo) {
            foreach ($lfo->values($step, $count) as $k => $value) {
                $cents[$k] += $value;
            }
        }
        $place = $this->places[$step];
        foreach ($cents as $c) {
            $this->places[] = $place += self::STEP * 2.0 ** ($c / 1200.0);
        }
    }

    private function swept(float $frame): float
    {
        if (0.0 === $this->sweep->cents) {
            return 0.0;
        }
        if ($frame < $this->attack) {
            return $this->sweep->cents * $frame / $this->attack;
        }

        return $this->sweep->cents * (1.0 - Bend::at(min(1.0, ($frame - $this->attack) / $this->decay), $this->sweep->bend));
    }
}
