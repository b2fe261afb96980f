<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Stretch;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Mix\MovingTime;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\TempoMap;

/**
 * What is to be rendered: segments in order with their voices, once through or as a loop. A song is planned section by
 * section while it is read, so that its length costs no memory.
 */
final readonly class Plan
{
    /** Longest song that is played and delivered. */
    private const MOST_SECONDS = 7200;

    /** Segments of a loop whose voices are placed at once. */
    private const PLACED = 32;

    /**
     * @param \Closure(int): \Generator<int, Segment> $segments from an index on
     * @param int                                     $frames   length of the loop, or of the music without its last tail
     */
    private function __construct(public Beat $beat, private \Closure $segments, public int $frames, public bool $loops)
    {
    }

    /** @return \Generator<int, Segment> once through, by their index */
    public function segments(): \Generator
    {
        return ($this->segments)(0);
    }

    /**
     * A loop as it goes on and on: index and start of its segments count on.
     *
     * @param int $from index of the first that is wanted
     *
     * @return \Generator<int, Segment>
     */
    public function endless(int $from = 0): \Generator
    {
        $count = (int) ceil($this->frames / Segment::FRAMES);
        for ($pass = intdiv($from, $count), $first = $from % $count; true; ++$pass, $first = 0) {
            foreach (($this->segments)($first) as $segment) {
                yield $segment->index + $pass * $count => $segment->later($pass * $count, $pass * $this->frames);
            }
        }
    }

    /**
     * A section, a pattern on its own, or a stretch of the song as it sounds when it goes round: the tails of the last pass
     * sound into its start.
     *
     * @param string $what id of the section or pattern, or the name of the stretch
     *
     * @throws InvalidChange
     */
    public static function loop(Beat $beat, string $what, PadSounds $sounds): self
    {
        $passage = Passage::of($beat, $what, true);
        $time = Timeline::of($beat, $what);
        $frames = $time->frames($passage->ticks, Beat::SAMPLE_RATE);
        $stretch = Stretch::named($what);
        self::refuseEndless($frames);
        $places = null === $stretch ? [Place::of($beat, $what, $passage, Passage::tickOf($beat, $what), null)->round()] : self::places($beat, $stretch);
        $segments = null === $stretch ? self::cut($beat, 0, $frames, 0, $places[0], $time, 0.0, $passage->ticks) : self::cutStretch($beat, $stretch, $frames, $time, $places);
        $voices = (new VoicePlanner($beat, $sounds))->loop($passage, $frames, $time, $places);
        $placed = new \ArrayObject();

        return new self($beat, static fn (int $from): \Generator => self::placed($segments, $from, $voices, $placed), $frames, true);
    }

    /**
     * Segments of a loop, voices put into a stretch of them when it is come to.
     *
     * @param array<int, Segment>     $segments
     * @param \ArrayObject<int, true> $placed   stretches that have theirs
     *
     * @return \Generator<int, Segment>
     */
    private static function placed(array $segments, int $from, LoopVoices $voices, \ArrayObject $placed): \Generator
    {
        for ($i = $from, $n = \count($segments); $i < $n; ++$i) {
            $stretch = intdiv($i, self::PLACED);
            if (!isset($placed[$stretch])) {
                $placed[$stretch] = true;
                $own = \array_slice($segments, $stretch * self::PLACED, self::PLACED, true);
                [$first, $last] = [$segments[$stretch * self::PLACED], $segments[min($n, ($stretch + 1) * self::PLACED) - 1]];
                foreach ($voices->within($first->start, $last->start + $last->frames) as $source => $list) {
                    foreach ($list as [$voice, $offset]) {
                        self::place($own, (string) $source, $voice, $offset);
                    }
                }
            }
            yield $i => $segments[$i];
        }
    }

    /**
     * Sections, or patterns, one after another from silence, to the end of the last voice.
     *
     * @param list<Entry> $song
     *
     * @throws InvalidChange
     */
    public static function song(Beat $beat, array $song, PadSounds $sounds): self
    {
        $at = 0;
        $sections = [];
        $place = null;
        // The song goes on from its start; a section on its own is as it is where it comes first.
        $tick = $song === Passage::song($beat) ? 0 : null;
        $time = null === $tick && [] !== $song ? Timeline::of($beat, $song[0]->section) : Timeline::song($beat);
        $passes = SongPlaces::passes($beat, $song, $time);
        $passed = 0.0;
        foreach ($song as $i => $entry) {
            $what = $entry->section;
            $passage = $over = Passage::ofEntry($beat, $entry);
            $own = $tick ?? Passage::tickOf($beat, $what);
            foreach ($passes[$i] as $pass => [$at, $frames]) {
                $place = Place::of($beat, $what, $passage, null === $own ? null : $own + $pass * $passage->ticks, $place?->end());
                if (null !== $tick) {
                    $over = $passage->withClips($beat, $time, $tick + $pass * $passage->ticks, $i === \count($song) - 1 && $pass === $entry->repeats - 1);
                }
                $sections[] = [$over, $at, $frames, $place, $time->from($passed), $passed];
                $at += $frames;
                $passed += $passage->ticks;
            }
            $tick = null === $tick ? null : $tick + $entry->repeats * $passage->ticks;
        }
        self::refuseEndless(null === $tick ? $at : max($at, (int) ceil(Beat::SAMPLE_RATE * $time->seconds(max([0.0, ...array_map(static fn (Clip $c): float => $c->end($time), array_values($beat->clips))])))));

        return new self($beat, static fn (int $from): \Generator => self::sectionBySection($beat, $sections, new VoicePlanner($beat, $sounds)), $at, false);
    }

    /** @throws InvalidChange */
    private static function refuseEndless(int $frames): void
    {
        if ($frames > self::MOST_SECONDS * Beat::SAMPLE_RATE) {
            throw new InvalidChange(\sprintf('The song would last %.1f hours; at most %d are played and delivered. Repeat its sections less often.', $frames / Beat::SAMPLE_RATE / 3600.0, intdiv(self::MOST_SECONDS, 3600)));
        }
    }

    /**
     * @param list<array{Passage, int, int, Place, TempoMap, float}> $sections what is played, first frame, frames, where that is, its tempo from there, and its tick
     *
     * @return \Generator<int, Segment>
     */
    private static function sectionBySection(Beat $beat, array $sections, VoicePlanner $planner): \Generator
    {
        $planned = $planner->song($sections);
        $next = $planned->current() ?? [];
        $sounding = [];
        $index = $at = 0;
        $place = null;
        $time = TempoMap::steady($beat->tempo);
        $tick = 0.0;
        foreach ($sections as [$passage, $start, $frames, $place, $time, $tick]) {
            $own = $next;
            $planned->next();
            // A voice fades in before it starts: the first ones of the next section may begin in this one.
            $next = $planned->current() ?? [];
            $segments = self::cut($beat, $start, $frames, $index, $place, $time, $tick);
            $at = $start + $frames;
            [$time, $tick] = [$time->from($passage->ticks), $tick + $passage->ticks];
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
            $place = $place->later($passage->ticks);
        }
        $last = $at;
        while ([] !== $sounding) {
            $end = max(array_map(static fn (Voice $v): int => $v->end(), array_merge(...array_values($sounding))));
            $segment = new Segment($index, $at, $beat->mixer->late() > 0 ? Segment::FRAMES : min(Segment::FRAMES, $end - $at), $place?->later(self::ticks($time, $at - $last)), self::moving($time, $tick, $at, $at - $last, Segment::FRAMES, null));
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

    /**
     * @param Place    $place of its start
     * @param TempoMap $time  from there
     * @param float    $tick  at which that is, from the start of what is played
     * @param int|null $loops ticks of what goes round
     *
     * @return array<int, Segment> by index
     */
    private static function cut(Beat $beat, int $start, int $frames, int $index, Place $place, TempoMap $time, float $tick, ?int $loops = null): array
    {
        $segments = [];
        for ($at = 0; $at < $frames; $at += $own) {
            $own = min(Segment::FRAMES, $frames - $at);
            $last = $frames - $at - Segment::FRAMES;
            if ($beat->mixer->late() > 0 && $last > 0 && $last < intdiv(Segment::FRAMES, 2)) {
                // What is put back to its place wants the beginning of what follows: no segment may be short.
                $own = intdiv($frames - $at, 2);
            }
            $segments[$index] = new Segment($index, $start + $at, $own, $place->later(self::ticks($time, $at)), self::moving($time, $tick, $start + $at, $at, $own, $loops));
            ++$index;
        }

        return $segments;
    }

    /** @return list<Place> where each pass begins that lies in a stretch of the song */
    private static function places(Beat $beat, Stretch $stretch): array
    {
        $places = [];
        foreach ($stretch->passes($beat) as [$entry, $passage, , $at]) {
            $places[] = Place::of($beat, $entry->section, $passage, $at, ([] === $places ? null : $places[\count($places) - 1])?->end());
        }

        return $places;
    }

    /**
     * @param list<Place> $places where its passes begin
     *
     * @return array<int, Segment> by index, with the place in its own section of each
     */
    private static function cutStretch(Beat $beat, Stretch $stretch, int $frames, TempoMap $time, array $places): array
    {
        $segments = [];
        foreach ($stretch->passes($beat) as $i => [, $passage, , $at]) {
            $first = max($at, $stretch->from);
            $from = $time->frames($first - $stretch->from, Beat::SAMPLE_RATE);
            $to = min($frames, $time->frames($at + $passage->ticks - $stretch->from, Beat::SAMPLE_RATE));
            $segments += self::cut($beat, $from, $to - $from, \count($segments), $places[$i]->later($first - $at), $time->from($first - $stretch->from), $first - $stretch->from, $stretch->to - $stretch->from);
        }
        $end = [] === $segments ? 0 : end($segments)->start + end($segments)->frames;
        // Behind the end of the song it is as it is there.
        $behind = [] === $places ? Place::of($beat, '', Passage::of($beat, (string) array_key_first($beat->sections), false), 0, null) : $places[\count($places) - 1]->end();

        $tick = self::ticks($time, $end);

        return $segments + self::cut($beat, $end, $frames - $end, \count($segments), $behind, $time->from($tick), $tick, $stretch->to - $stretch->from);
    }

    private static function ticks(TempoMap $time, int $frames): float
    {
        return $time->exactTicks($frames / Beat::SAMPLE_RATE);
    }

    /**
     * How time goes in a segment, where the tempo moves.
     *
     * @param float $tick at which the map begins, from the start of what is played
     * @param int   $at   frames of the map that are over
     */
    private static function moving(TempoMap $time, float $tick, int $frame, int $at, int $frames, ?int $loops): ?MovingTime
    {
        if ($time->isSteady()) {
            return null;
        }
        [$from, $to] = [self::ticks($time, $at), self::ticks($time, $at + $frames)];

        return new MovingTime($tick + $from, $frame, ($to - $from) / $frames, $loops);
    }

    /** @param array<int, Segment> $segments by index, without gaps */
    private static function place(array $segments, string $source, Voice $voice, int $offset): void
    {
        [$first, $end] = [$voice->first() + $offset, $voice->end() + $offset];
        if ($end <= $segments[(int) array_key_first($segments)]->start) {
            return;
        }
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
