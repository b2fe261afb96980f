<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Entry;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\TempoMap;

/**
 * What is played once through: a section with the patterns of its parts, each as often as it fits, a pattern on its own, or a
 * stretch of the song with what lies over it.
 */
final readonly class Passage
{
    /**
     * @param list<array{Pattern, int}>   $patterns each with the tick it begins at
     * @param list<array{Clip, int}>      $clips    what begins in it on the tracks, and when
     * @param list<array{self, int, int}> $passes   of a stretch of the song, each with its number there and the tick it begins at here, which may lie before its start
     * @param list<string>                $silent   pads and parts whose voices are not heard in it
     */
    private function __construct(public array $patterns, public int $ticks, public array $clips = [], private array $passes = [], public array $silent = [])
    {
    }

    /**
     * What it is put together from.
     *
     * @param int $pass its number
     *
     * @return list<array{self, int, int}> each with its number and the tick it begins at
     */
    public function passes(int $pass): array
    {
        return $this->passes ?: [[$this, $pass, 0]];
    }

    /**
     * A section or a pattern by its id, or a stretch of the song by its name.
     *
     * @param bool         $loops whether it is to go round: then what is empty has a length as well
     * @param list<string> $muted parts that are silent, which changes nothing in how long it is
     *
     * @throws InvalidChange when the beat has neither
     */
    public static function of(Beat $beat, string $id, bool $loops, array $muted = []): self
    {
        $stretch = Stretch::named($id);
        if (null !== $stretch) {
            return self::between($beat, $stretch);
        }
        if (!isset($beat->sections[$id])) {
            $pattern = $beat->pattern($id);

            return new self([[$pattern, 0]], $pattern->ticks);
        }
        $section = $beat->sections[$id];
        $ticks = $loops ? $section->loopTicks($beat->patterns, $beat->meter) : $section->lengthTicks($beat->patterns);
        $patterns = [];
        foreach ($section->its($beat->patterns) as $pattern) {
            for ($at = 0; $at < $ticks && !$pattern->isEmpty() && !\in_array($pattern->part, $muted, true); $at += $pattern->ticks) {
                $patterns[] = [$pattern, $at];
            }
        }

        return new self($patterns, $ticks);
    }

    /** A section as it comes there. */
    public static function ofEntry(Beat $beat, Entry $entry): self
    {
        $own = self::of($beat, $entry->section, false, $entry->muted);

        return [] === $entry->fixed ? $own : new self($own->patterns, $own->ticks, silent: array_merge(...array_map($beat->sourcesOf(...), $entry->fixed)));
    }

    /** What sounds on the tracks where it begins goes on from there. */
    private static function between(Beat $beat, Stretch $stretch): self
    {
        $patterns = $passes = $clips = [];
        foreach ($stretch->passes($beat) as [, $passage, $number, $at]) {
            $passes[] = [$passage, $number, $at - $stretch->from];
            foreach ($passage->patterns as [$pattern, $in]) {
                $patterns[] = [$pattern, $at - $stretch->from + $in];
            }
        }
        $time = Timeline::song($beat);
        foreach ($beat->clips as $clip) {
            $own = $clip->at >= $stretch->from ? $clip : $clip->split($stretch->from, $clip->id, $time)[1] ?? null;
            if (null !== $own && !$own->muted && $own->at < $stretch->to) {
                $clips[] = [$own, $own->at - $stretch->from];
            }
        }

        return new self($patterns, $stretch->to - $stretch->from, $clips, $passes);
    }

    /** With what lies over it where it is played at a tick of the song; at its end also what begins behind that. */
    public function withClips(Beat $beat, TempoMap $time, int $at, bool $last): self
    {
        $clips = [];
        foreach ($beat->clips as $clip) {
            $begins = $clip->begins($time);
            if (!$clip->muted && $begins >= $at && ($last || $begins < $at + $this->ticks)) {
                $clips[] = [$clip, $clip->at - $at];
            }
        }

        return new self($this->patterns, $this->ticks, $clips, silent: $this->silent);
    }

    /** Tick of the song at which a section begins for the first time; null for what is not in it. */
    public static function tickOf(Beat $beat, string $section): ?int
    {
        $at = 0;
        foreach (self::song($beat) as $entry) {
            if ($entry->section === $section) {
                return $at;
            }
            $at += $entry->repeats * $beat->section($entry->section)->lengthTicks($beat->patterns);
        }

        return null;
    }

    /**
     * Where a section, or a pattern, comes in the song: each pass of the one, each round of the other.
     *
     * @return list<array{int, int}> tick and ticks
     */
    public static function comings(Beat $beat, Scope $scope, string $id): array
    {
        $comings = [];
        $at = 0;
        foreach (self::song($beat) as $entry) {
            $section = $entry->section;
            $ticks = $beat->section($section)->lengthTicks($beat->patterns);
            $round = match ($scope) {
                Scope::Song => 0,
                Scope::Section => $id === $section ? $ticks : 0,
                Scope::Pattern => \in_array($id, $beat->section($section)->patterns, true) ? $beat->pattern($id)->ticks : 0,
            };
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $at += $ticks) {
                for ($in = 0; $round > 0 && $in < $ticks; $in += $round) {
                    $comings[] = [$at + $in, min($round, $ticks - $in)];
                }
            }
        }

        return $comings;
    }

    /** @return list<Entry> the song, without what takes no time */
    public static function song(Beat $beat): array
    {
        return array_values(array_filter($beat->song, static fn (Entry $e): bool => $beat->section($e->section)->lengthTicks($beat->patterns) > 0));
    }

    /** Tick of the song at which one of its entries begins. */
    public static function tickOfEntry(Beat $beat, string $entry): int
    {
        $at = 0;
        foreach (self::song($beat) as $other) {
            if ($other->id === $entry) {
                break;
            }
            $at += $other->repeats * $beat->section($other->section)->lengthTicks($beat->patterns);
        }

        return $at;
    }
}
