<?php

namespace Pestle\Core\Audio;

/**
 * A source heard at another rate or pitch: windowed-sinc interpolation from which any frame can be read on its own and
 * is always the same. Its place in the source is worked out from the frame's number alone, so nothing adds up over time.
 *
 * Where the speed is a simple fraction (44.1 to 48 kHz), every place has a filter of its own; between those of other
 * speeds the filters are interpolated. When the sound is sped up, the cut-off comes down with it, so that nothing folds back.
 * Source: J. O. Smith, "Digital audio resampling".
 */
final class Resampled implements AudioSource
{
    /** Largest denominator of a speed that is taken as a fraction. */
    private const MOST_PHASES = 1024;
    /** A speed this near to a fraction is that fraction: below what a day of sound could tell apart. */
    private const SAME = 1e-12;

    private readonly int $up;
    private readonly int $down;
    private readonly SincTable $table;

    /** @param float $speed source frames a frame heard, above 0 and at most 1000; 2 is an octave up */
    public function __construct(private readonly AudioSource $source, private readonly float $speed, private readonly int $sampleRate)
    {
        [$this->down, $this->up] = self::fraction($speed);
        $this->table = SincTable::of(min(1.0, 1.0 / $speed), 0 === $this->up ? null : $this->up);
    }

    public static function toRate(AudioSource $source, int $sampleRate, float $pitchRatio = 1.0): AudioSource
    {
        $speed = $pitchRatio * $source->sampleRate() / $sampleRate;

        return abs($speed - 1.0) < 1e-9 ? $source : new self($source, $speed, $sampleRate);
    }

    public function sampleRate(): int
    {
        return $this->sampleRate;
    }

    public function frames(): int
    {
        // What rounding adds is no frame of its own.
        return (int) ceil($this->source->frames() / $this->speed - 1e-6);
    }

    public function read(int $start, int $count): StereoBlock
    {
        if ($count < 1) {
            return StereoBlock::silence(0);
        }
        $reach = $this->table->reach;
        $from = $this->place($start)[0] - $reach + 1;
        $last = $this->place($start + $count - 1)[0];
        $block = $this->source->read($from, $last + $reach - $from + 1);
        $left = $right = [];
        $same = $block->left === $block->right;
        for ($n = $start, $end = $start + $count; $n < $end; ++$n) {
            [$index, $phase] = $this->place($n);
            $whole = (int) $phase;
            $share = $phase - $whole;
            $taps = $this->table->filter($whole);
            $at = $index - $reach + 1 - $from;
            if (0.0 === $share) {
                $left[] = self::on($block->left, $taps, $at);
                $right[] = $same ? 0.0 : self::on($block->right, $taps, $at);
            } elseif ($same) {
                $left[] = SincTable::between($block->left, $taps, $this->table->filter($whole + 1), $share, $at);
            } else {
                [$left[], $right[]] = self::bothBetween($block->left, $block->right, $taps, $this->table->filter($whole + 1), $share, $at);
            }
        }

        return new StereoBlock($left, $same ? $left : $right);
    }

    /** @return array{int, float} the source frame at or before a frame heard, and how far behind it that lies, in phases of the table */
    private function place(int $frame): array
    {
        if ($this->up > 0) {
            $position = $frame * $this->down;
            $index = intdiv($position, $this->up);
            if ($position < 0 && $index * $this->up !== $position) {
                --$index;
            }

            return [$index, (float) ($position - $index * $this->up)];
        }
        $position = $frame * $this->speed;
        $index = floor($position);

        return [(int) $index, ($position - $index) * $this->table->phases];
    }

    /**
     * A signal at a filter's place.
     *
     * @param list<float> $signal
     * @param list<float> $taps
     */
    private static function on(array $signal, array $taps, int $at): float
    {
        $sum = 0.0;
        foreach ($taps as $tap) {
            $sum = $tap * $signal[$at++] + $sum;
        }

        return $sum;
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     * @param list<float> $taps
     * @param list<float> $next
     *
     * @return array{float, float}
     */
    private static function bothBetween(array $left, array $right, array $taps, array $next, float $share, int $at): array
    {
        $l = $r = 0.0;
        foreach ($taps as $k => $tap) {
            $tap = ($next[$k] - $tap) * $share + $tap;
            $l = $tap * $left[$at] + $l;
            $r = $tap * $right[$at++] + $r;
        }

        return [$l, $r];
    }

    /**
     * The speed as a fraction, by continued fractions.
     *
     * @return array{int, int} numerator and denominator; the latter 0 when there is no simple one
     */
    private static function fraction(float $value): array
    {
        if (!($value > 0.0) || $value > 1000.0) {
            throw new \InvalidArgumentException('The speed of a sample must be above 0 and at most 1000.');
        }
        [$n0, $d0, $n1, $d1] = [0, 1, 1, 0];
        for ($rest = $value; $d1 <= self::MOST_PHASES; $rest = 1.0 / ($rest - $whole)) {
            $whole = (int) floor($rest);
            [$n0, $d0, $n1, $d1] = [$n1, $d1, $whole * $n1 + $n0, $whole * $d1 + $d0];
            if ($d1 <= self::MOST_PHASES && abs($n1 / $d1 - $value) <= self::SAME * $value) {
                return [$n1, $d1];
            }
            if ($rest - $whole < self::SAME) {
                break;
            }
        }

        return [0, 0];
    }
}
