<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;

/** Hits and notes to strikes: how they are felt, chance, the frames at which they fall, and what sounds along with them. */
final readonly class StrikePlanner
{
    public function __construct(private Beat $beat)
    {
    }

    /**
     * @param bool $wraps whether it goes round: then what falls before its start is heard at its end
     *
     * @return list<Strike> in order of time
     */
    public function of(Passage $passage, int $start, int $frames, int $pass, bool $wraps = false): array
    {
        $strikes = $events = [];
        foreach ($passage->patterns as [$pattern, $at]) {
            $feelings = [];
            foreach ([...$pattern->hits, ...$pattern->notes] as $event) {
                $pad = $event instanceof Hit ? $event->pad : null;
                $feeling = $feelings[$pad ?? ''] ??= $this->beat->feeling($pattern->feelOf($pad));
                foreach (self::rounds($pattern, $event, $at, $passage->ticks) as $from) {
                    if ($from + $event->tick >= $passage->ticks || !$this->happens($event, $from, $pass)) {
                        continue;
                    }
                    // A lane that goes round by itself is felt as the others are, wherever its rounds begin.
                    $goes = $from !== $at;
                    $played = $goes ? $feeling->played($event->later($from - $at))->later($at - $from) : $feeling->played($event);
                    $several = $played instanceof Hit && $played->strikes > 1;
                    foreach ($several ? $played->struck() : [$played] as $one) {
                        $frame = $this->frame($from + $one->tick + $one->fine / Hit::FINE, $start, $frames, $several || $feeling->movesOut(), $wraps);
                        foreach ($one instanceof Hit ? $this->hit($one, $frame) : $this->note($one, $pattern->part, $frame) as $strike) {
                            $strikes[] = $strike;
                            $events[] = $one->key().' '.(0 === $from ? $pass : $pass.' '.$from);
                        }
                    }
                }
            }
        }
        // Of two that fall together, the later pad of the kit is the later strike; keys come after pads, low notes first.
        $places = array_flip([...array_keys($this->beat->kit->pads), ...array_keys($this->beat->parts)]);
        // One number each, as comparing lists takes many times as long: 12 bits of place, 7 of pitch.
        $order = array_map(static fn (Strike $s): int => ($s->frame << 19) | ($places[$s->source] << 7) | $s->pitch, $strikes);
        asort($order);

        return (new Legato($this->beat->tempo))->joined($this->inTurn(array_map(static fn (int $i): array => [$strikes[$i], $events[$i]], array_keys($order))));
    }

    /**
     * Ticks of the passage at which the round begins that an event belongs to. A lane with a length of its own goes
     * round over the whole passage, whatever its pattern does; what lies beyond its length is silent.
     *
     * @return list<int>
     */
    private static function rounds(Pattern $pattern, Hit|Note $event, int $at, int $ticks): array
    {
        $own = $event instanceof Hit ? ($pattern->lanes[$event->pad] ?? null)?->ticks : null;
        if (null === $own) {
            return [$at];
        }

        return $at > 0 || $event->tick >= $own || $ticks < 1 ? [] : range(0, $ticks - 1, min($own, $ticks));
    }

    /** @param bool $out whether it may fall outside the passage */
    private function frame(float $tick, int $start, int $frames, bool $out, bool $wraps): int
    {
        $frame = $this->beat->tempo->frames($tick, Beat::SAMPLE_RATE);
        if (!$out) {
            return $start + min($frame, $frames - 1);
        }

        return $wraps ? $frame : max(0, $start + $frame);
    }

    /** @return list<Strike> the pad's own, and those of what sounds along with it */
    private function hit(Hit $hit, int $frame): array
    {
        $pad = $this->beat->soundingPad($hit->pad);
        if (null === $pad) {
            return [];
        }
        $pad = '' === $hit->grade ? $pad : $pad->graded($hit->grade);
        $strikes = [Strike::pad($pad, $this->beat->kit->partOf($pad->id), $frame, $hit->velocity, $hit->lengthTicks())];
        foreach ($pad->along as $other) {
            $strikes = [...$strikes, ...$this->along($other, $frame, $hit->velocity, $hit->lengthTicks())];
        }

        return $strikes;
    }

    /** @return list<Strike> none where it is not there any more */
    private function along(string $other, int $frame, int $velocity, float $ticks): array
    {
        [$source, $pitch] = [...explode('/', $other, 2), ''];
        $pad = $this->beat->soundingPad($source);
        $keys = ($this->beat->parts[$source] ?? null)?->keys;

        return match (true) {
            '' === $pitch && null !== $pad => [Strike::pad($pad, $this->beat->kit->partOf($source), $frame, $velocity, $ticks)],
            null !== $keys => [Strike::note($keys, $source, $frame, $velocity, $ticks, (int) $pitch)],
            default => [],
        };
    }

    /** @return list<Strike> */
    private function note(Note $note, string $part, int $frame): array
    {
        $keys = ($this->beat->parts[$part] ?? null)?->keys;

        return null === $keys ? [] : [Strike::note($keys, $part, $frame, $note->velocity, $note->lengthTicks(), $note->pitch)];
    }

    /**
     * Which of its sounds answers each strike of a pad that answers with one at a time. Every pass begins anew.
     *
     * @param list<array{Strike, string}> $strikes with the event they come from, in order of time
     *
     * @return list<Strike>
     */
    private function inTurn(array $strikes): array
    {
        $turns = [];
        foreach ($strikes as $i => [$strike, $event]) {
            $sound = $strike->sound;
            if ($sound->answer->chooses()) {
                $all = $sound->with(['answer' => Answer::All]);
                $could = \count($all instanceof Pad ? $all->answering($strike->velocity) : $all->answering($strike->pitch, $strike->velocity));
                $before = $turns[$strike->source] ?? null;
                $turns[$strike->source] = match ($sound->answer) {
                    Answer::Turn => null === $before ? 0 : $before + 1,
                    Answer::Fresh => self::fresh($before, $this->chance($event.' turn'), max(1, $could)),
                    default => $this->chance($event.' turn'),
                };
                $strikes[$i][0] = $strike->inTurn($turns[$strike->source]);
            }
        }

        return array_column($strikes, 0);
    }

    private static function fresh(?int $before, int $chance, int $count): int
    {
        return null === $before || $count < 2 ? $chance % $count : ($before + 1 + $chance % ($count - 1)) % $count;
    }

    /** Chance is a function of the beat's seed, the event, its pattern's place in the section, and the pass, so that a beat always sounds the same. */
    private function happens(Hit|Note $event, int $at, int $pass): bool
    {
        return $event->chance >= 100 || $this->chance($event->key().' '.(0 === $at ? $pass : $pass.' '.$at)) % 100 < $event->chance;
    }

    private function chance(string $event): int
    {
        return (int) hexdec(hash('crc32b', $this->beat->seed.' '.$event));
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
                $pitches[$strike->source] = $strike->lastPitch();
            }
        }

        return $pitches;
    }
}
