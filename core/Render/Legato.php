<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Theory\Tempo;

/** Notes that begin before the one before them is let go, joined to one that moves its pitch, where an instrument plays so. */
final readonly class Legato
{
    public function __construct(private Tempo $tempo)
    {
    }

    /**
     * @param list<Strike> $strikes in order of time
     *
     * @return list<Strike>
     */
    public function joined(array $strikes): array
    {
        $last = $joined = [];
        foreach ($strikes as $strike) {
            $keys = $strike->sound;
            if (!$keys instanceof Keys || !$keys->legato || !$keys->single) {
                $joined[] = $strike;
                continue;
            }
            $place = $last[$strike->source] ?? null;
            $before = null === $place ? null : $joined[$place];
            if (null !== $before && $this->goesOn($before, $strike, $keys)) {
                $at = $strike->frame - $before->frame;
                $cents = 100.0 * ($strike->pitch - $before->pitch);
                $slides = $before->slides?->and($at, $cents) ?? new Slides([[$at, $cents]], max(Slides::LEAST_FRAMES, (int) round($keys->glideMs * Beat::SAMPLE_RATE / 1000)));
                $joined[$place] = $before->goingOn($slides, $this->tempo->exactTicks($at / Beat::SAMPLE_RATE) + $strike->ticks);
            } else {
                $last[$strike->source] = \count($joined);
                $joined[] = $strike;
            }
        }

        return $joined;
    }

    /** Only within one recording: another one has to be struck. */
    private function goesOn(Strike $before, Strike $strike, Keys $keys): bool
    {
        if ($strike->frame <= $before->frame || $strike->frame >= $before->frame + $this->tempo->frames(min($before->ticks, 1e12), Beat::SAMPLE_RATE)) {
            return false;
        }

        return $keys->answering($before->pitch, $before->velocity, $before->turn) === $keys->answering($strike->pitch, $before->velocity, $before->turn);
    }
}
