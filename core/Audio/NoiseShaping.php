<?php

namespace Pestle\Core\Audio;

/**
 * Rounds one side of a sound to whole steps so that the rounding error lies where ears hear least: each error is taken out of
 * the values that follow, weighed by a short filter. There is more noise in all and less of it between 1 and 7 kHz (at 44.1 kHz).
 * Source: Lipshitz, Vanderkooy and Wannamaker, "Minimally audible noise shaping" (JAES 39, 1991), the filter of five taps.
 */
final class NoiseShaping
{
    public const TAPS = [2.033, -2.165, 1.959, -1.590, 0.6149];
    /** One and a half times two to the power of 52: what is this large has no places behind the point. */
    private const WHOLE = 6755399441055744.0;
    /** Errors as large come of cutting at full scale; fed back they would grow. */
    private const MOST = 2.0;
    private float $a = 0.0;
    private float $b = 0.0;
    private float $c = 0.0;
    private float $d = 0.0;
    private float $e = 0.0;

    /**
     * @param list<float> $values in steps
     * @param list<float> $dither in steps, as many
     *
     * @return list<float> whole numbers from -$scale to $scale - 1
     */
    public function rounded(array $values, array $dither, float $scale): array
    {
        [$a, $b, $c, $d, $e] = [$this->a, $this->b, $this->c, $this->d, $this->e];
        $top = $scale - 1.0;
        foreach ($values as $i => $x) {
            $wanted = $x - (2.033 * $a - 2.165 * $b + 1.959 * $c - 1.590 * $d + 0.6149 * $e);
            $step = (($wanted + $dither[$i]) + self::WHOLE) - self::WHOLE;
            $step = $step > $top ? $top : ($step < -$scale ? -$scale : $step);
            [$e, $d, $c, $b] = [$d, $c, $b, $a];
            $a = max(-self::MOST, min(self::MOST, $step - $wanted));
            $values[$i] = $step;
        }
        [$this->a, $this->b, $this->c, $this->d, $this->e] = [$a, $b, $c, $d, $e];

        return $values;
    }
}
