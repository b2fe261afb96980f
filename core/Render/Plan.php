<?php

namespace Pestle\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;

/** What is to be rendered: segments in order with their voices, once through or as a loop. */
final readonly class Plan
{
    /** Longest song, which still fits into memory. */
    private const MOST_SECONDS = 7200;

    /**
     * @param list<Segment> $segments
     * @param int           $frames   length of the loop, or of the music without its last tail
     */
    private function __construct(public Beat $beat, public array $segments, public int $frames, public bool $loops)
    {
    }

    /** A pattern as it sounds when it goes round: the tails of the last pass sound into its start. */
    public static function loop(Beat $beat, string $pattern, PadSounds $sounds): self
    {
        $frames = self::patternFrames($beat, $pattern);
        $segments = self::cut(0, $frames, 0);
        $voices = (new VoicePlanner($beat, $sounds))->loop($beat->pattern($pattern), $frames);
        foreach ($voices as $pad => $list) {
            foreach ($list as $voice) {
                $earliest = (int) ceil(($voice->end() - $frames) / $frames);
                for ($pass = -max(0, $earliest); $pass <= 1; ++$pass) {
                    self::place($segments, $pad, $voice, $pass * $frames);
                }
            }
        }

        return new self($beat, $segments, $frames, true);
    }

    /**
     * Patterns one after another from silence, to the end of the last voice.
     *
     * @param list<array{pattern: string, repeats: int}> $parts
     */
    public static function song(Beat $beat, array $parts, PadSounds $sounds): self
    {
        self::refuseEndless($beat, $parts);
        $segments = [];
        $at = 0;
        $sections = [];
        foreach ($parts as $part) {
            $frames = self::patternFrames($beat, $part['pattern']);
            for ($pass = 0; $pass < $part['repeats']; ++$pass) {
                $sections[] = [$beat->pattern($part['pattern']), $at, $frames];
                array_push($segments, ...self::cut($at, $frames, \count($segments)));
                $at += $frames;
            }
        }
        $voices = (new VoicePlanner($beat, $sounds))->song($sections);
        $end = $at;
        foreach ($voices as $list) {
            foreach ($list as $voice) {
                $end = max($end, $voice->end());
            }
        }
        array_push($segments, ...self::cut($at, $end - $at, \count($segments)));
        foreach ($voices as $pad => $list) {
            foreach ($list as $voice) {
                self::place($segments, $pad, $voice, 0);
            }
        }

        return new self($beat, $segments, $at, false);
    }

    /**
     * @param list<array{pattern: string, repeats: int}> $parts
     *
     * @throws InvalidChange
     */
    private static function refuseEndless(Beat $beat, array $parts): void
    {
        $frames = array_sum(array_map(static fn (array $part): int => $part['repeats'] * self::patternFrames($beat, $part['pattern']), $parts));
        if ($frames > self::MOST_SECONDS * Beat::SAMPLE_RATE) {
            throw new InvalidChange(\sprintf('The song would last %.1f hours; at most %d are played and delivered. Repeat its patterns less often.', $frames / Beat::SAMPLE_RATE / 3600.0, intdiv(self::MOST_SECONDS, 3600)));
        }
    }

    /** A pattern's length, rounded once to whole frames. */
    public static function patternFrames(Beat $beat, string $pattern): int
    {
        return $beat->tempo->frames($beat->pattern($pattern)->lengthTicks(), Beat::SAMPLE_RATE);
    }

    /** @return list<Segment> */
    private static function cut(int $start, int $frames, int $index): array
    {
        $segments = [];
        for ($at = 0; $at < $frames; $at += Segment::FRAMES) {
            $segments[] = new Segment($index + \count($segments), $start + $at, min(Segment::FRAMES, $frames - $at));
        }

        return $segments;
    }

    /** @param list<Segment> $segments */
    private static function place(array $segments, string $pad, Voice $voice, int $offset): void
    {
        [$first, $end] = [$voice->first() + $offset, $voice->end() + $offset];
        for ($i = self::segmentAt($segments, $first), $n = \count($segments); $i < $n; ++$i) {
            $segment = $segments[$i];
            if ($segment->start >= $end) {
                break;
            }
            if ($segment->start + $segment->frames > $first) {
                $segment->voices[$pad][] = [$voice, $voice->start + $offset - $segment->start];
            }
        }
    }

    /**
     * Index of the last segment that starts at or before $frame.
     *
     * @param list<Segment> $segments
     */
    private static function segmentAt(array $segments, int $frame): int
    {
        $low = 0;
        $high = \count($segments) - 1;
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
