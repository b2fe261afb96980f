<?php

namespace Pestle\Core\Signal;

/**
 * Saturation x / sqrt(1 + x²), taken as the mean over the way from one sample to the next, which keeps most of what would
 * fold back away: the difference of the antiderivative sqrt(1 + x²) at both, divided by theirs, comes to (a + b) / (F(a) + F(b)).
 *
 * Source: J. Parker, V. Zavalishin, E. Le Bivic, "Reducing the aliasing of nonlinear waveshaping using continuous-time
 * convolution", DAFx 2016.
 */
final class SoftLimit
{
    /**
     * @param list<float> $signal
     * @param float       $drive  gain before it; half of it, in dB, is taken back behind it
     * @param float       $before the last sample before these, as it came in
     *
     * @return array{list<float>, float} the sound and its last sample as it came in
     */
    public static function through(array $signal, float $drive, float $before): array
    {
        $a = $before * $drive;
        $behind = 1.0 / sqrt($drive);
        $fa = sqrt(1.0 + $a * $a);
        $x = $before;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $b = $x * $drive;
            $fb = sqrt(1.0 + $b * $b);
            $signal[$i] = $behind * ($a + $b) / ($fa + $fb);
            $a = $b;
            $fa = $fb;
        }

        return [array_values($signal), $x];
    }
}
