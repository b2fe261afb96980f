<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Scope;

/** What is played once through: a section with the patterns of its parts, each as often as it fits, or a pattern on its own. */
final readonly class Passage
{
    /** @param list<array{Pattern, int}> $patterns each with the tick it begins at */
    private function __construct(public array $patterns, public int $ticks)
    {
    }

    /**
     * A section or a pattern by its id.
     *
     * @param bool $loops whether it is to go round: then what is empty has a length as well
     *
     * @throws InvalidChange when the beat has neither
     */
    public static function of(Beat $beat, string $id, bool $loops): self
    {
        if (!isset($beat->sections[$id])) {
            $pattern = $beat->pattern($id);

            return new self([[$pattern, 0]], $pattern->ticks);
        }
        $section = $beat->sections[$id];
        $ticks = $loops ? $section->loopTicks($beat->patterns, $beat->meter) : $section->lengthTicks($beat->patterns);
        $patterns = [];
        foreach ($section->its($beat->patterns) as $pattern) {
            for ($at = 0; $at < $ticks && !$pattern->isEmpty(); $at += $pattern->ticks) {
                $patterns[] = [$pattern, $at];
            }
        }

        return new self($patterns, $ticks);
    }

    /** Tick of the song at which a section begins for the first time; null for what is not in it. */
    public static function tickOf(Beat $beat, string $section): ?int
    {
        $at = 0;
        foreach (self::song($beat) as [$id, $repeats]) {
            if ($id === $section) {
                return $at;
            }
            $at += $repeats * $beat->section($id)->lengthTicks($beat->patterns);
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
        foreach (self::song($beat) as [$section, $repeats]) {
            $ticks = $beat->section($section)->lengthTicks($beat->patterns);
            $round = match ($scope) {
                Scope::Song => 0,
                Scope::Section => $id === $section ? $ticks : 0,
                Scope::Pattern => \in_array($id, $beat->section($section)->patterns, true) ? $beat->pattern($id)->ticks : 0,
            };
            for ($pass = 0; $pass < $repeats; ++$pass, $at += $ticks) {
                for ($in = 0; $round > 0 && $in < $ticks; $in += $round) {
                    $comings[] = [$at + $in, min($round, $ticks - $in)];
                }
            }
        }

        return $comings;
    }

    /** @return list<array{string, int}> the song: ids of its sections and their repeats; without those that take no time */
    public static function song(Beat $beat): array
    {
        $song = [];
        foreach ($beat->song as $id) {
            $section = $beat->section($id);
            if ($section->lengthTicks($beat->patterns) > 0) {
                $song[] = [$id, $section->repeats];
            }
        }

        return $song;
    }
}
