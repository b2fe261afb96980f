<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;

/**
 * What is to be rendered: segments in order with their voices, once through or as a loop. A song is planned section by
 * section while it is read, so that its length costs no memory.
 */
final readonly class Plan
{
    /** Longest song that is played and delivered. */
    private const MOST_SECONDS = 7200;

    /**
     * @param \Closure(): \Generator<int, Segment> $segments
     * @param int                                  $frames   length of the loop, or of the music without its last tail
     */
    private function __construct(public Beat $beat, private \Closure $segments, public int $frames, public bool $loops)
    {
    }

    /** @return \Generator<int, Segment> once through, by their index */
    public function segments(): \Generator
    {
        return ($this->segments)();
    }

    /**
     * A loop as it goes on and on: index and start of its segments count on.
     *
     * @return \Generator<int, Segment>
     */
    public function endless(): \Generator
    {
        $segments = iterator_to_array($this->segments());
        for ($pass = 0; true; ++$pass) {
            foreach ($segments as $segment) {
                yield $segment->index + $pass * \count($segments) => $segment->later($pass * \count($segments), $pass * $this->frames);
            }
        }
    }

    /**
     * A section, or a pattern on its own, as it sounds when it goes round: the tails of the last pass sound into its start.
     *
     * @param string $what id of the section or pattern
     *
     * @throws InvalidChange
     */
    public static function loop(Beat $beat, string $what, PadSounds $sounds): self
    {
        $passage = Passage::of($beat, $what, true);
        $frames = self::frames($beat, $passage);
        $segments = self::cut($beat, 0, $frames, 0, Passage::tickOf($beat, $what));
        $voices = (new VoicePlanner($beat, $sounds))->loop($passage, $frames);
        foreach ($voices as $pad => $list) {
            foreach ($list as $voice) {
                $earliest = (int) ceil(($voice->end() - $frames) / $frames);
                for ($pass = -max(0, $earliest); $pass <= 1; ++$pass) {
                    self::place($segments, $pad, $voice, $pass * $frames);
                }
            }
        }

        return new self($beat, static fn (): \Generator => yield from $segments, $frames, true);
    }

    /**
     * Sections, or patterns, one after another from silence, to the end of the last voice.
     *
     * @param list<array{string, int}> $song their ids, and how often each is played
     *
     * @throws InvalidChange
     */
    public static function song(Beat $beat, array $song, PadSounds $sounds): self
    {
        $at = 0;
        $sections = [];
        // The song goes on from its start; a section on its own is as it is where it comes first.
        $tick = $song === Passage::song($beat) ? 0 : null;
        foreach ($song as [$what, $repeats]) {
            $passage = Passage::of($beat, $what, false);
            $frames = self::frames($beat, $passage);
            $own = $tick ?? Passage::tickOf($beat, $what);
            for ($pass = 0; $pass < $repeats && $frames > 0; ++$pass) {
                $sections[] = [$passage, $at, $frames, null === $own ? null : $own + $pass * $passage->ticks];
                $at += $frames;
            }
            $tick = null === $tick ? null : $tick + $repeats * $passage->ticks;
        }
        self::refuseEndless($at);

        return new self($beat, static fn (): \Generator => self::sectionBySection($beat, $sections, new VoicePlanner($beat, $sounds)), $at, false);
    }

    /** @throws InvalidChange */
    private static function refuseEndless(int $frames): void
    {
        if ($frames > self::MOST_SECONDS * Beat::SAMPLE_RATE) {
            throw new InvalidChange(\sprintf('The song would last %.1f hours; at most %d are played and delivered. Repeat its sections less often.', $frames / Beat::SAMPLE_RATE / 3600.0, intdiv(self::MOST_SECONDS, 3600)));
        }
    }

    /**
     * @param list<array{Passage, int, int, int|null}> $sections what is played, first frame, frames, and tick of the song
     *
     * @return \Generator<int, Segment>
     */
    private static function sectionBySection(Beat $beat, array $sections, VoicePlanner $planner): \Generator
    {
        $planned = $planner->song($sections);
        $next = $planned->current() ?? [];
        $sounding = [];
        $index = $at = 0;
        $tick = null;
        foreach ($sections as [$passage, $start, $frames, $tick]) {
            $own = $next;
            $planned->next();
            // A voice fades in before it starts: the first ones of the next section may begin in this one.
            $next = $planned->current() ?? [];
            $segments = self::cut($beat, $start, $frames, $index, $tick);
            $at = $start + $frames;
            foreach ([$sounding, $own, $next] as $voices) {
                foreach ($voices as $pad => $list) {
                    foreach ($list as $voice) {
                        self::place($segments, $pad, $voice, 0);
                    }
                }
            }
            yield from $segments;
            $index += \count($segments);
            $sounding = self::soundingAt($at, $sounding, $own);
            $tick = null === $tick ? null : $tick + $passage->ticks;
        }
        $last = $at;
        while ([] !== $sounding) {
            $end = max(array_map(static fn (Voice $v): int => $v->end(), array_merge(...array_values($sounding))));
            $segment = new Segment($index, $at, $beat->mixer->late() > 0 ? Segment::FRAMES : min(Segment::FRAMES, $end - $at), self::tickAt($beat, $tick, $at - $last));
            foreach ($sounding as $pad => $list) {
                foreach ($list as $voice) {
                    self::place([$index => $segment], $pad, $voice, 0);
                }
            }
            yield $index => $segment;
            ++$index;
            $at += $segment->frames;
            $sounding = self::soundingAt($at, $sounding);
        }
    }

    /**
     * @param array<string, list<Voice>> ...$voices by pad
     *
     * @return array<string, non-empty-list<Voice>> those that go on at a frame
     */
    private static function soundingAt(int $frame, array ...$voices): array
    {
        $on = [];
        foreach ($voices as $byPad) {
            foreach ($byPad as $pad => $list) {
                foreach ($list as $voice) {
                    if ($voice->end() > $frame) {
                        $on[$pad][] = $voice;
                    }
                }
            }
        }

        return $on;
    }

    /** A passage's length, rounded once to whole frames. */
    public static function frames(Beat $beat, Passage $passage): int
    {
        return $beat->tempo->frames($passage->ticks, Beat::SAMPLE_RATE);
    }

    /**
     * @param int|null $tick of the song at its start
     *
     * @return array<int, Segment> by index
     */
    private static function cut(Beat $beat, int $start, int $frames, int $index, ?int $tick): array
    {
        $segments = [];
        for ($at = 0; $at < $frames; $at += $own) {
            $own = min(Segment::FRAMES, $frames - $at);
            $last = $frames - $at - Segment::FRAMES;
            if ($beat->mixer->late() > 0 && $last > 0 && $last < intdiv(Segment::FRAMES, 2)) {
                // What is put back to its place wants the beginning of what follows: no segment may be short.
                $own = intdiv($frames - $at, 2);
            }
            $segments[$index] = new Segment($index, $start + $at, $own, self::tickAt($beat, $tick, $at));
            ++$index;
        }

        return $segments;
    }

    private static function tickAt(Beat $beat, ?int $tick, int $frames): ?float
    {
        return null === $tick ? null : $tick + $beat->tempo->exactTicks($frames / Beat::SAMPLE_RATE);
    }

    /** @param array<int, Segment> $segments by index, without gaps */
    private static function place(array $segments, string $source, Voice $voice, int $offset): void
    {
        [$first, $end] = [$voice->first() + $offset, $voice->end() + $offset];
        for ($i = self::segmentAt($segments, $first); isset($segments[$i]) && $segments[$i]->start < $end; ++$i) {
            $segment = $segments[$i];
            if ($segment->start + $segment->frames > $first) {
                $segment->voices[$source][] = [$voice, $voice->start + $offset - $segment->start];
            }
        }
    }

    /**
     * Index of the last segment that starts at or before $frame.
     *
     * @param array<int, Segment> $segments
     */
    private static function segmentAt(array $segments, int $frame): int
    {
        $low = (int) array_key_first($segments);
        $high = (int) array_key_last($segments);
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            if ($segments[$middle]->start <= $frame) {
                $low = $middle;
            } else {
                $high = $middle - 1;
            }
        }

        return $low;
    }
}
