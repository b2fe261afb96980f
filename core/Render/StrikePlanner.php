<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Route;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Theory\TempoMap;

/** What is played to strikes: the frames at which they fall, and what sounds along with them. */
final readonly class StrikePlanner
{
    private Performance $performance;
    private AsStruck $struck;

    public function __construct(private Beat $beat)
    {
        $this->performance = new Performance($beat);
        $this->struck = new AsStruck($beat);
    }

    /**
     * @param TempoMap    $time   of the passage, from its start
     * @param list<Place> $places where each pass of the passage begins, as what moves counts it; none where nothing moves
     * @param bool        $wraps  whether it goes round: then what falls before its start is heard at its end
     *
     * @return list<Strike> in order of time
     */
    public function of(Passage $passage, int $start, int $frames, int $pass, TempoMap $time, array $places, bool $wraps = false): array
    {
        $strikes = $events = [];
        foreach ($passage->passes($pass) as $i => [$own, $number, $at]) {
            $place = $places[$i] ?? null;
            foreach ($this->performance->of($own, $number) as [$event, $part, $in, $name, $out, $written]) {
                $tick = $in + $at;
                if ($own !== $passage && ($tick < 0.0 || $tick >= $passage->ticks)) {
                    continue;
                }
                $frame = self::frame($time->frames($tick, Beat::SAMPLE_RATE), $start, $frames, $out, $wraps);
                $ticks = $time->evened($tick, $event->lengthTicks());
                foreach ($event instanceof Hit ? $this->hit($event, $frame, $ticks, $place, $written) : $this->note($event, $part, $frame, $ticks, $place, $written) as $strike) {
                    $strike = $this->routed($strike, $name, $written)->moving($time->isSteady() ? null : $time->tempo($tick), $this->struck->drifts($strike->source, $place, $written, $time, $at));
                    $strikes[] = \in_array($strike->source, $own->silent, true) ? $strike->unheard() : $strike;
                    $events[] = $name;
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

    /** With its instrument as this note finds it. */
    private function routed(Strike $strike, string $event, float $written): Strike
    {
        if (!$strike->sound instanceof Keys || [] === array_merge(...array_column($strike->sound->all(), 'routes'))) {
            return $strike;
        }
        $chance = $this->performance->chance($event.' route') % 1024 / 1023.0;
        $bar = $this->beat->meter->barTicks();
        $step = ($written - $bar * floor($written / $bar)) / $bar;

        return $strike->playing(Route::at($strike->sound, $strike->pitch, $strike->velocity, $chance, $step));
    }

    /** @param bool $out whether it may fall outside the passage */
    private static function frame(int $frame, int $start, int $frames, bool $out, bool $wraps): int
    {
        if (!$out) {
            return $start + min($frame, $frames - 1);
        }

        return $wraps ? $frame : max(0, $start + $frame);
    }

    /** @return list<Strike> the pad's own, and those of what sounds along with it */
    private function hit(Hit $hit, int $frame, float $ticks, ?Place $place, float $at): array
    {
        $pad = $this->struck->pad($hit->pad, $place, $at);
        if (null === $pad) {
            return [];
        }
        $pad = '' === $hit->grade ? $pad : $pad->graded($hit->grade);
        $strikes = [Strike::pad($pad, $this->beat->kit->partOf($pad->id), $frame, $hit->velocity, $ticks)];
        foreach ($pad->along as $other) {
            $strikes = [...$strikes, ...$this->along($other, $frame, $hit->velocity, $ticks, $place, $at)];
        }

        return $strikes;
    }

    /** @return list<Strike> none where it is not there any more */
    private function along(string $other, int $frame, int $velocity, float $ticks, ?Place $place, float $at): array
    {
        [$source, $pitch] = [...explode('/', $other, 2), ''];
        $pad = $this->struck->pad($source, $place, $at);
        $keys = $this->struck->keys($source, $place, $at);

        return match (true) {
            '' === $pitch && null !== $pad => [Strike::pad($pad, $this->beat->kit->partOf($source), $frame, $velocity, $ticks)],
            null !== $keys => [Strike::note($keys, $source, $frame, $velocity, $ticks, (int) $pitch)],
            default => [],
        };
    }

    /** @return list<Strike> */
    private function note(Note $note, string $part, int $frame, float $ticks, ?Place $place, float $at): array
    {
        $keys = $this->struck->keys($part, $place, $at);

        return null === $keys ? [] : [Strike::note($keys, $part, $frame, $note->velocity, $ticks, $note->pitch)];
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
                $all = $sound->with(['answer' => Answer::All, ...$sound instanceof Pad ? ['layers' => $sound->layers] : []]);
                $could = \count($all instanceof Pad ? $all->answering($strike->velocity) : $all->answering($strike->pitch, $strike->velocity));
                $before = $turns[$strike->source] ?? null;
                $turns[$strike->source] = match ($sound->answer) {
                    Answer::Turn => null === $before ? 0 : $before + 1,
                    Answer::Fresh => self::fresh($before, $this->performance->chance($event.' turn'), max(1, $could)),
                    default => $this->performance->chance($event.' turn'),
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
