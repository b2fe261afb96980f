<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;

/** The metronome: two short wooden knocks, the higher for the first beat of a bar. */
final class Click
{
    public const SECONDS = 0.06;

    /** Both clicks, each SECONDS long, the accented one first. */
    public static function both(int $sampleRate): StereoBlock
    {
        $tone = new Tone($sampleRate);
        $sound = [];
        foreach ([1660.0, 1245.0] as $hz) {
            $envelope = $tone->envelope(self::SECONDS, 0.0008, 0.04);
            array_push($sound, ...Tone::shaped(Tone::mixed([[$tone->sine(self::SECONDS, $hz), 0.35], [$tone->sine(self::SECONDS, $hz * 2.7), 0.1]]), $envelope));
        }

        return new StereoBlock($sound, $sound);
    }
}
