<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Pattern\Note;

/** What a part on keys plays in one coming of a section, as a box outside is to play it: felt, and in seconds. */
final readonly class PlayedOutside
{
    /** A note that is as short as can be, in seconds. */
    private const SHORTEST = 0.01;

    /**
     * @param int                                               $at      tick of the song at which the coming begins
     * @param float                                             $seconds it lasts
     * @param string                                            $channel the part plays through
     * @param list<array{float, int, int, float, float, float}> $notes   seconds from there, pitch, velocity, seconds it is held, and both in ticks; in order
     */
    private function __construct(public int $at, public float $seconds, public string $channel, public array $notes)
    {
    }

    /** @throws InvalidChange when it plays no notes there */
    public static function in(Beat $beat, string $entry, string $part): self
    {
        $own = $beat->entry($entry);
        $keys = $beat->part($part)->keys ?? throw new InvalidChange(\sprintf('%s is a kit: a part on keys can play what stands outside.', $beat->part($part)->name));
        $at = Passage::tickOfEntry($beat, $entry);
        $time = Timeline::song($beat);
        $start = $time->seconds($at);
        $performance = new Performance($beat);
        $passage = Passage::of($beat, $own->section, false, [...$own->muted, ...$own->fixed]);
        $notes = [];
        for ($pass = 0; $pass < $own->repeats; ++$pass) {
            $from = $at + $pass * $passage->ticks;
            foreach ($performance->of($passage, $pass) as [$event, $of, $tick]) {
                if ($of === $part && $event instanceof Note) {
                    $begins = max($start, $time->seconds($from + $tick));
                    $held = max(self::SHORTEST, $time->seconds($from + $tick + $event->length) - $begins);
                    $notes[] = [round($begins - $start, 6), $event->pitch, $event->velocity, round($held, 6), round(max(0.0, $from + $tick - $at), 3), (float) $event->length];
                }
            }
        }
        usort($notes, static fn (array $a, array $b): int => $a <=> $b);
        if ([] === $notes) {
            throw new InvalidChange(\sprintf('%s plays nothing in %s, or is silent or fixed there.', $beat->part($part)->name, $beat->section($own->section)->name));
        }

        return new self($at, $time->seconds($at + $own->repeats * $passage->ticks) - $start, $keys->channel, $notes);
    }
}
