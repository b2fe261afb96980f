<?php

namespace Pestle\Core\Mix;

/**
 * How steeply a cut falls, an octave: sections in series that together are a Butterworth filter of that order.
 * Source: S. Butterworth, "On the theory of filter amplifiers" (1930); quality of each pair of poles 1 / (2 sin((2k - 1) pi / 2n)).
 */
enum EqSlope: string
{
    case Six = '6 dB';
    case Twelve = '12 dB';
    case TwentyFour = '24 dB';
    case ThirtySix = '36 dB';
    case FortyEight = '48 dB';

    /** Of the steepest. */
    public const MOST_SECTIONS = 4;

    /**
     * Quality of its sections of second order, the sharpest last: that one is as sharp as the band asks for.
     *
     * @param float $q of the band; 0.71 falls without a peak
     *
     * @return list<float> empty for a single section of first order
     */
    public function qualities(float $q): array
    {
        $pairs = match ($this) {
            self::Six => 0,
            self::Twelve => 1,
            self::TwentyFour => 2,
            self::ThirtySix => 3,
            self::FortyEight => 4,
        };
        if ($pairs < 2) {
            return 0 === $pairs ? [] : [$q];
        }
        $qualities = [];
        for ($k = $pairs; $k >= 1; --$k) {
            $qualities[] = 0.5 / sin((2.0 * $k - 1.0) * \M_PI / (4.0 * $pairs)) * (1 === $k ? $q / 0.71 : 1.0);
        }

        return $qualities;
    }
}
