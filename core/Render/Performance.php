<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;

/** What is played of a passage: the hits and notes that happen, as they are felt, and where. */
final readonly class Performance
{
    public function __construct(private Beat $beat)
    {
    }

    /**
     * @return \Generator<int, array{Hit|Note, string, float, string, bool, float}> event as it is played, its part, tick of the passage, a name
     *                                                                              for it that is the same in every rendering, whether it may fall outside the passage, and the tick it is written on
     */
    public function of(Passage $passage, int $pass): \Generator
    {
        foreach ($passage->patterns as [$pattern, $at]) {
            $feelings = $plain = [];
            $here = [$at];
            $suffix = ' '.(0 === $at ? $pass : $pass.' '.$at);
            foreach ([...$pattern->hits, ...$pattern->notes] as $event) {
                $by = $pattern->feltBy($event) ?? '';
                $feeling = $feelings[$by] ??= $this->beat->feeling($pattern->feelFor($event));
                $lane = $event instanceof Hit ? $pattern->lanes[$event->pad] ?? null : null;
                // Most events of a section of thousands: played as written, once.
                if (null === $lane && ($plain[$by] ??= $feeling->isPlain()) && 100 === $event->chance && ($event instanceof Note || 1 === $event->strikes)) {
                    if ($at + $event->tick < $passage->ticks) {
                        yield [$event, $pattern->part, $at + $event->tick + $event->fine / Hit::FINE, $event->key().$suffix, false, $at + $event->tick + $event->fine / Hit::FINE];
                    }
                    continue;
                }
                foreach (null !== $lane ? self::rounds($lane, $event, $at, $passage->ticks) : $here as $from) {
                    if ($from + $event->tick >= $passage->ticks || !$this->happens($event, $from, $pass)) {
                        continue;
                    }
                    // A lane that goes round by itself is felt as the others are, wherever its rounds begin.
                    $goes = $from !== $at;
                    $played = $goes ? $feeling->played($event->later($from - $at))->later($at - $from) : $feeling->played($event);
                    $several = $played instanceof Hit && $played->strikes > 1;
                    foreach ($several ? $played->struck() : [$played] as $one) {
                        yield [$one, $pattern->part, $from + $one->tick + $one->fine / Hit::FINE, $one->key().' '.(0 === $from ? $pass : $pass.' '.$from), $several || $feeling->movesOut(), $from + $event->tick + $event->fine / Hit::FINE];
                    }
                }
            }
        }
    }

    /**
     * Ticks of the passage at which the round begins that an event belongs to. A lane with a length of its own goes
     * round over the whole passage, whatever its pattern does; what lies beyond its length is silent.
     *
     * @return list<int>
     */
    private static function rounds(Lane $lane, Hit|Note $event, int $at, int $ticks): array
    {
        $own = $lane->ticks;
        if (null === $own) {
            return [$at];
        }

        $rounds = [];
        for ($from = 0; 0 === $at && $event->tick < $own && $from < $ticks; $from += $own) {
            $rounds[] = $from;
        }

        return $rounds;
    }

    /** Chance is a function of the beat's seed, the event, its pattern's place in the section, and the pass, so that a beat always sounds the same. */
    private function happens(Hit|Note $event, int $at, int $pass): bool
    {
        return $event->chance >= 100 || $this->chance($event->dice().' '.(0 === $at ? $pass : $pass.' '.$at)) % 100 < $event->chance;
    }

    public function chance(string $event): int
    {
        return (int) hexdec(hash('crc32b', $this->beat->seed.' '.$event));
    }
}
