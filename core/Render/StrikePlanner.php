<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;

/** Hits and notes to strikes: swing, chance, and the frames at which they fall. */
final readonly class StrikePlanner
{
    public function __construct(private Beat $beat)
    {
    }

    /** @return list<Strike> in order of time */
    public function of(Passage $passage, int $start, int $frames, int $pass): array
    {
        $strikes = [];
        foreach ($passage->patterns as [$pattern, $at]) {
            foreach ([...$pattern->hits, ...$pattern->notes] as $event) {
                if ($at + $event->tick >= $passage->ticks || !$this->happens($event, $at, $pass)) {
                    continue;
                }
                $tick = $at + $pattern->swing->sounding($event->tick) + ($event instanceof Hit ? $event->fine / Hit::FINE : 0);
                $frame = $start + min($this->beat->tempo->frames($tick, Beat::SAMPLE_RATE), $frames - 1);
                $strike = $event instanceof Hit ? $this->hit($event, $frame) : $this->struckNote($event, $pattern->part, $frame);
                if (null !== $strike) {
                    $strikes[] = $strike;
                }
            }
        }
        // Of two that fall together, the later pad of the kit is the later strike; keys come after pads, low notes first.
        $places = array_flip([...array_keys($this->beat->kit->pads), ...array_keys($this->beat->parts)]);
        // One number each, as comparing lists takes many times as long: 12 bits of place, 7 of pitch.
        $order = array_map(static fn (Strike $s): int => ($s->frame << 19) | ($places[$s->source] << 7) | $s->pitch, $strikes);
        asort($order);

        return array_values(array_map(static fn (int $i): Strike => $strikes[$i], array_keys($order)));
    }

    private function hit(Hit $hit, int $frame): ?Strike
    {
        $pad = $this->beat->kit->pad($hit->pad);
        if (null === $pad) {
            return null;
        }
        $names = $pad->choke > 0 ? ['pad '.$pad->id, 'group '.$pad->choke.' '.$this->beat->kit->partOf($pad->id)] : ['pad '.$pad->id];

        return new Strike($frame, $pad->id, $pad, $names, $hit->velocity, $hit->lengthTicks());
    }

    private function struckNote(Note $note, string $part, int $frame): ?Strike
    {
        $keys = ($this->beat->parts[$part] ?? null)?->keys;

        return null === $keys ? null : new Strike($frame, $part, $keys, [$keys->single ? $part : $part.' '.$note->pitch], $note->velocity, $note->lengthTicks(), $note->pitch);
    }

    /** Chance is a function of the beat's seed, the event, its pattern's place in the section, and the pass, so that a beat always sounds the same. */
    private function happens(Hit|Note $event, int $at, int $pass): bool
    {
        return $event->chance >= 100 || hexdec(hash('crc32b', $this->beat->seed.' '.$event->key().' '.(0 === $at ? $pass : $pass.' '.$at))) % 100 < $event->chance;
    }

    /**
     * When each name is struck first.
     *
     * @param list<Strike> $strikes
     *
     * @return array<string, int>
     */
    public static function silences(array $strikes): array
    {
        $first = [];
        foreach ($strikes as $strike) {
            foreach ($strike->silences as $name) {
                $first[$name] ??= $strike->frame;
            }
        }

        return $first;
    }

    /**
     * @param list<Strike>       $strikes
     * @param array<string, int> $pitches of earlier ones
     *
     * @return array<string, int> pitch of the last note of each part
     */
    public static function lastPitches(array $strikes, array $pitches): array
    {
        foreach ($strikes as $strike) {
            if ($strike->sound instanceof Keys) {
                $pitches[$strike->source] = $strike->pitch;
            }
        }

        return $pitches;
    }
}
