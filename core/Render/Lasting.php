<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Zone;

/** How long sounds go on at the most: as far as one has to look ahead for what silences them. */
final readonly class Lasting
{
    public function __construct(private Beat $beat, private Stretches $stretches)
    {
    }

    /**
     * The longest that a sound goes on that is struck in one of the passages, in frames.
     *
     * @param list<Passage> $passages
     */
    public function longestFrames(array $passages): int
    {
        $beats = [$this->beat, ...(new AsStruck($this->beat))->extremes()];

        return max(array_map(fn (Beat $beat): int => $this->longestIn($beat, $passages), $beats));
    }

    /** @param list<Passage> $passages */
    private function longestIn(Beat $beat, array $passages): int
    {
        $struck = $lowest = [];
        foreach ($passages as $passage) {
            foreach ($passage->patterns as [$pattern]) {
                $struck[$pattern->id] ??= array_flip(array_column($pattern->hits, 'pad'));
                if (!isset($lowest[$pattern->id]) && [] !== $pattern->notes) {
                    $lowest[$pattern->id] = [$pattern->part, min(array_column($pattern->notes, 'pitch'))];
                }
            }
        }
        $longest = 0;
        foreach ($lowest as [$part, $pitch]) {
            // The lower a recording is played, the longer it lasts.
            $keys = ($beat->parts[$part] ?? null)?->keys;
            if (null === $keys) {
                continue;
            }
            $sounds = array_merge(...array_map(static fn (Keys $one): array => [$one, ...Route::extremes($one)], $keys->all()));
            $longest = max($longest, ...array_map(fn (Keys $one): int => $this->longestNote($one, $pitch, $beat), $sounds));
        }
        $pads = array_intersect_key($beat->kit->pads, array_replace([], ...array_values($struck)));
        foreach ($pads as $pad) {
            $pads += array_intersect_key($beat->kit->pads, array_flip($pad->along));
        }
        foreach (array_keys($pads) as $id) {
            $pad = $beat->soundingPad((string) $id) ?? $beat->pad((string) $id);
            foreach ($pad->layers as $layer) {
                $longest = max($longest, Contour::frames($layer->delayMs) + $this->lasting($this->stretches->played($layer, $pad->tuneCents + $layer->tuneCents)[2], $pad->treatment));
            }
        }

        return $longest;
    }

    private function longestNote(Keys $keys, int $pitch, Beat $beat): int
    {
        $longest = 0;
        foreach ($keys->zones as $zone) {
            $cents = max(-100 * Zone::REACH, 100 * max($pitch, $zone->lowKey) - $zone->rootCents + $zone->sound->tuneCents) + $keys->tuneCents;
            $longest = max($longest, Contour::frames($keys->blend->delayMs + $zone->sound->delayMs) + $this->lasting($this->stretches->ofZone($zone->sound, $beat->sound($zone->sound->sample), $cents)[2], $keys->treatment));
        }

        return $longest;
    }

    /**
     * The longest that one of them is held, with its release: what goes round inside may last as long as it is held.
     *
     * @param list<Strike> $strikes
     */
    public function longestHeld(array $strikes): int
    {
        $longest = 0;
        foreach ($strikes as $strike) {
            $sound = $strike->sound;
            if ($sound instanceof Keys ? $sound->lastsAsHeld() : PlayMode::Held === $sound->mode) {
                $after = $sound instanceof Keys ? max(array_map(self::after(...), $sound->all())) : $sound->treatment->amp->releaseMs + max([0.0, ...array_column($sound->layers, 'delayMs')]);
                $longest = max($longest, $this->beat->tempo->frames(min($strike->ticks, 1e12), Beat::SAMPLE_RATE) + Contour::frames($after));
            }
        }

        return $longest + Voice::CHOKE_FADE;
    }

    /** Milliseconds that a note of an instrument goes on after it is let go. */
    private static function after(Keys $keys): float
    {
        return $keys->treatment->amp->releaseMs + $keys->blend->delayMs + max([0.0, ...array_map(static fn (Zone $zone): float => $zone->sound->delayMs, $keys->zones)]);
    }

    /** Frames of a sound with what its treatment adds to it. */
    private function lasting(int $frames, Treatment $treatment): int
    {
        $motion = Shaping::of($treatment, new AtStrike(127, 0.0, $this->beat->tempo), 0.0)?->motion;

        return (null === $motion ? $frames : $motion->framesFor($frames)) + Contour::frames($treatment->amp->releaseMs);
    }
}
