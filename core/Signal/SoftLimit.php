<?php

namespace Pestle\Core\Signal;

/**
 * Saturation x / sqrt(1 + x²), at eight times the rate, and there as the mean over the way from one sample to the next,
 * so that little folds back: the difference of the antiderivative sqrt(1 + x²) at both, divided by theirs, comes to
 * (a + b) / (F(a) + F(b)). Without memory: it wants MARGIN samples on both sides of what it gives.
 *
 * Source: J. Parker, V. Zavalishin, E. Le Bivic, "Reducing the aliasing of nonlinear waveshaping using continuous-time
 * convolution", DAFx 2016.
 */
final class SoftLimit
{
    public const MARGIN = 64;
    /** Samples to either side that the filters of the three steps up and down span. */
    private const REACHES = [24, 7, 5];

    /** @var list<Halfband> */
    private static array $steps = [];

    /**
     * @param list<float> $signal with MARGIN more on both sides
     * @param float       $drive  gain before it; half of it, in dB, is taken back behind it
     *
     * @return list<float> without the margins
     */
    public static function through(array $signal, float $drive): array
    {
        self::$steps = self::$steps ?: array_map(static fn (int $reach): Halfband => new Halfband($reach), self::REACHES);
        foreach (self::$steps as $step) {
            $signal = $step->up($signal);
        }
        $signal = self::limited($signal, $drive, 1.0 / sqrt($drive));
        foreach (array_reverse(self::$steps) as $step) {
            $signal = $step->down($signal);
        }

        return \array_slice($signal, self::MARGIN, -self::MARGIN);
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function limited(array $signal, float $drive, float $behind): array
    {
        $a = 0.0;
        $fa = 1.0;
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

        return array_values($signal);
    }
}
