<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Sample\Effect\Part;

/** Places in a recording where cutting is natural. */
final class Snap
{
    private const ZERO_SECONDS = 0.01;
    private const HIT_SECONDS = 0.25;
    private const SILENT = 0.001;

    /** The nearest frame at which the middle of both sides crosses zero, within 10 ms; else the frame itself. */
    public static function toZero(AudioSource $source, int $frame): int
    {
        $reach = (int) ($source->sampleRate() * self::ZERO_SECONDS);
        $block = $source->read($frame - $reach - 1, 2 * $reach + 2);
        $best = $frame;
        $near = $reach + 1;
        for ($i = 1; $i < 2 * $reach + 2; ++$i) {
            $before = $block->left[$i - 1] + $block->right[$i - 1];
            $now = $block->left[$i] + $block->right[$i];
            $at = $frame - $reach - 1 + $i;
            if ((0.0 === $now || ($before < 0.0) !== ($now < 0.0)) && abs($at - $frame) < $near && $at >= 0 && $at <= $source->frames()) {
                $near = abs($at - $frame);
                $best = $at;
            }
        }

        return $best;
    }

    /**
     * The nearest sixteenth of a beat grid; without lines the frame itself.
     *
     * @param array<int, int> $lines frame of each beat, as BeatGrid gives them
     */
    public static function toGrid(array $lines, int $frame): int
    {
        $best = null;
        foreach ($lines as $beat => $from) {
            $to = $lines[$beat + 1] ?? $from;
            for ($k = 0; $k < 4; ++$k) {
                $place = $from + (int) round($k * ($to - $from) / 4.0);
                $best = null === $best || abs($place - $frame) < abs($best - $frame) ? $place : $best;
            }
        }

        return $best ?? $frame;
    }

    /** The nearest begin of a hit within a quarter of a second; else the frame itself. */
    public static function toHit(AudioSource $source, int $frame): int
    {
        $reach = (int) ($source->sampleRate() * self::HIT_SECONDS);
        // More is listened to than is looked at: what is loud is judged beside its surroundings.
        $from = max(0, $frame - 8 * $reach);
        $best = $frame;
        foreach (Onsets::find(new Part($source, $from, min($source->frames(), $frame + 8 * $reach)), 0.5, 0.03) as $onset) {
            if (abs($from + $onset - $frame) < ($best === $frame ? $reach : abs($best - $frame))) {
                $best = $from + $onset;
            }
        }

        return $best;
    }

    /** @return array{int, int} from the first frame above -60 dBFS to the last; all of it when it is silent throughout */
    public static function sounding(AudioSource $source): array
    {
        $first = $last = null;
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += 16384) {
            $block = $source->read($at, min(16384, $frames - $at));
            foreach ($block->left as $i => $l) {
                $r = $block->right[$i];
                if ($l > self::SILENT || $l < -self::SILENT || $r > self::SILENT || $r < -self::SILENT) {
                    $first ??= $at + $i;
                    $last = $at + $i + 1;
                }
            }
        }

        return [$first ?? 0, $last ?? $source->frames()];
    }
}
