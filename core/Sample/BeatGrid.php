<?php

namespace Pestle\Core\Sample;

/** Beats of a recording whose tempo is known. */
final class BeatGrid
{
    /**
     * Even beats over a whole recording, one of them on its first downbeat.
     *
     * @param float $downbeat seconds at which a bar begins; may lie before the start
     *
     * @return list<int> frames, ascending
     */
    public static function even(float $bpm, float $downbeat, int $frames, int $rate): array
    {
        $beat = 60.0 / $bpm;
        $beats = [];
        for ($k = (int) ceil(-$downbeat / $beat - 1e-6); ($frame = (int) round(($downbeat + $k * $beat) * $rate)) < $frames; ++$k) {
            $beats[] = max(0, $frame);
        }

        return $beats;
    }

    /** Tempo of a stretch that is so many beats long: 60 x beats / seconds. */
    public static function tempo(int $beats, float $seconds): float
    {
        return 60.0 * $beats / $seconds;
    }
}
