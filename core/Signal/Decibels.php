<?php

namespace Pestle\Core\Signal;

/** Amplitude ratios and decibels: dB = 20 log10(ratio). */
final class Decibels
{
    /** What stands for silence where a number is needed, in dB. */
    public const FLOOR = -144.0;

    public static function toGain(float $db): float
    {
        return $db <= self::FLOOR ? 0.0 : 10.0 ** ($db / 20.0);
    }

    public static function fromGain(float $gain): float
    {
        return $gain <= 6.4e-8 ? self::FLOOR : 20.0 * log10($gain);
    }
}
