<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Theory\SoundRules;

/** Sounds at their places in time: how they begin and end there. */
final readonly class Placing
{
    public function __construct(private Beat $beat, private PadSounds $sounds)
    {
    }

    /**
     * @param float|null $ticks  how long it is held; null where it goes on to its end
     * @param bool       $always whether it dies away over its release even when that is shorter than a fade
     */
    public function voice(Sounding $s, int $frame, ?float $ticks, Treatment $treatment, bool $always, ?int $cut, bool $wraps, float $left, float $right): ?Voice
    {
        if (null !== $cut && $cut < $frame) {
            // It was silenced before its delay was over.
            return null;
        }
        // What is made goes on however fast it is gone through.
        $length = null === $s->shaping?->motion || null !== $s->made ? $s->length : $s->shaping->motion->framesFor($s->length);
        $fade = $fadeOut = $this->fade($s, $length);
        $release = null;
        $dies = $s->shaping?->contour?->ends;
        if (null !== $ticks) {
            $held = max(1, $this->beat->tempo->frames(min($ticks, 1e12), Beat::SAMPLE_RATE));
            $frames = Contour::frames($treatment->amp->releaseMs);
            if (0 === $frames && !$always) {
                // Let go, it ends there.
                $length = null === $s->round ? min($length, $held) : $held;
            } elseif (null !== $s->round || $held + max($fade, $frames) < $length) {
                $frames = max($fade, $frames);
                // A straight release is a fade like others.
                if (0.0 === $treatment->amp->releaseBend) {
                    $fadeOut = $frames;
                } else {
                    $release = new Release($held, $frames, $treatment->amp->releaseBend);
                }
                $length = $held + $frames;
            }
        }
        if (null !== $dies && $dies < $length) {
            $length = max(1, $dies);
            $fadeOut = min($fade, $length);
        }
        [$length, $fadeOut] = self::cut($frame, $length, $fade, $fadeOut, $cut);
        [$from, $frame, $length, $fadeIn] = self::begun($s->from, $frame, $length, $wraps);

        return new Voice($s->sample, $s->tuneCents, $from, $frame, $length, $fadeIn, min($fadeOut, $length), $left, $right, $s->glide, $s->round, $s->shaping, $release, $s->made);
    }

    /** How long a sound fades at its end. */
    private function fade(Sounding $s, int $length): int
    {
        // Where its recording goes on, a neighbour may come in meanwhile, over a whole fade: together they are the recording.
        if (null === $s->made && SoundRules::First !== $this->beat->rules && $this->sounds->frames($s->sample, $s->tuneCents) > $s->from + $s->length) {
            return min(Voice::FADE, $length);
        }

        // What is shorter than a few fades keeps most of itself.
        return min(Voice::FADE, intdiv($length, 4));
    }

    /**
     * What begins inside a recording fades in before it is struck.
     *
     * @return array{int, int, int, int} first frame of the sound, the frame at which it is at full level, length and fade
     */
    private static function begun(int $from, int $frame, int $length, bool $wraps): array
    {
        $fadeIn = min(Voice::FADE, $from);
        if (!$wraps && $frame < $fadeIn) {
            // There is no time before the start of a song to fade in: it does so as it begins.
            $late = min($fadeIn - $frame, intdiv($length, 2));

            return [$from + $late, $frame + $late, $length - $late, min($fadeIn, $frame + $late)];
        }

        return [$from, $frame, $length, $fadeIn];
    }

    /**
     * Until when a voice lasts that another silences.
     *
     * @return array{int, int} its length and the fade at its end
     */
    private static function cut(int $frame, int $length, int $fade, int $fadeOut, ?int $cut): array
    {
        if (null === $cut || $frame + $length <= $cut) {
            return [$length, $fadeOut];
        }
        // A voice that goes on anyway is faded after the cut; one that ends about there keeps its own fade.
        $rest = $length - ($cut - $frame);

        return [min($length, $cut - $frame + min($rest, Voice::CHOKE_FADE)), max($fade, min(Voice::CHOKE_FADE, $rest))];
    }
}
