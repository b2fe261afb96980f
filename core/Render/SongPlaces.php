<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Song\Entry;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\TempoMap;

/** Where what a song is made of begins: in frames, and in segments of its plan. */
final class SongPlaces
{
    /**
     * @param list<Entry> $song
     *
     * @return list<list<array{int, int}>> for each entry of it, where each pass begins and how long it is, in frames
     */
    public static function passes(Beat $beat, array $song, TempoMap $time): array
    {
        $at = $passed = 0;
        $all = [];
        foreach ($song as $i => $entry) {
            $passage = Passage::of($beat, $entry->section, false);
            // Each by itself, as beats of old have it.
            $frames = $beat->tempo->frames($passage->ticks, Beat::SAMPLE_RATE);
            $all[$i] = [];
            for ($pass = 0; $pass < $entry->repeats && $frames > 0; ++$pass) {
                $passed += $passage->ticks;
                // Each begins where it does by the exact time of all before it: rounded one by one they would drift.
                $next = SoundRules::First === $beat->rules && $time->isSteady() ? $at + $frames : $time->frames($passed, Beat::SAMPLE_RATE);
                $all[$i][] = [$at, $next - $at];
                $at = $next;
            }
        }

        return array_values($all);
    }

    /** @return list<int> of each entry of the song that takes time the segment it begins with: each pass is cut into whole ones and a rest */
    public static function firstSegments(Beat $beat): array
    {
        $segment = 0;
        $first = [];
        foreach (self::passes($beat, Passage::song($beat), Timeline::song($beat)) as $passes) {
            $first[] = $segment;
            foreach ($passes as [, $frames]) {
                $segment += (int) ceil($frames / Segment::FRAMES);
            }
        }

        return $first;
    }

    /** The segment of the song in which one of its ticks lies. */
    public static function segmentOf(Beat $beat, int $tick): int
    {
        $frame = self::frameOf($beat, $tick);
        $segment = 0;
        foreach (self::passes($beat, Passage::song($beat), Timeline::song($beat)) as $passes) {
            foreach ($passes as [$start, $frames]) {
                if ($frame < $start + $frames) {
                    return $segment + intdiv(max(0, $frame - $start), Segment::FRAMES);
                }
                $segment += (int) ceil($frames / Segment::FRAMES);
            }
        }

        return $segment;
    }

    /** The segment in which a tick of what goes round lies, both counted on over its passes. */
    public static function segmentOfLoop(Beat $beat, string $what, int $tick): int
    {
        $ticks = Passage::of($beat, $what, true)->ticks;
        $time = Timeline::of($beat, $what);
        $pass = intdiv($tick, max(1, $ticks));

        return $pass * (int) ceil($time->frames($ticks, Beat::SAMPLE_RATE) / Segment::FRAMES) + intdiv($time->frames($tick - $pass * $ticks, Beat::SAMPLE_RATE), Segment::FRAMES);
    }

    /** Frame of the song at which what lies at one of its ticks begins: counted from the start of the pass it lies in, as strikes are. */
    public static function frameOf(Beat $beat, int $tick): int
    {
        $song = Passage::song($beat);
        $time = Timeline::song($beat);
        $start = $at = 0;
        foreach (self::passes($beat, $song, $time) as $i => $passes) {
            $ticks = $beat->section($song[$i]->section)->lengthTicks($beat->patterns);
            foreach ($passes as [$frame]) {
                if ($tick < $at) {
                    break 2;
                }
                [$start, $last] = [$frame, $at];
                $at += $ticks;
            }
        }

        return $start + $time->from($last ?? 0)->frames($tick - ($last ?? 0), Beat::SAMPLE_RATE);
    }
}
