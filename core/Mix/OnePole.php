<?php

namespace Pestle\Core\Mix;

/** Share of the way to what comes in that a low-pass of first order goes in a frame: y += share (x - y). */
final class OnePole
{
    /** The matched pole exp(-2 pi hz / rate). */
    public static function share(float $hz, float $sampleRate): float
    {
        return 1.0 - exp(-2.0 * \M_PI * $hz / $sampleRate);
    }
}
