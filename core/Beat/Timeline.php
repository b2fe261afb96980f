<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Tempo;
use Pestle\Core\Theory\TempoMap;

/** When what is played of a beat falls: its tempo, and where that moves with the song or in its sections. */
final class Timeline
{
    /** Of the song from its start. */
    public static function song(Beat $beat): TempoMap
    {
        if (!self::moves($beat)) {
            return TempoMap::steady($beat->tempo);
        }
        $ways = [];
        $at = 0.0;
        foreach (Passage::song($beat) as $entry) {
            $ticks = (float) $beat->section($entry->section)->lengthTicks($beat->patterns);
            for ($pass = 0; $pass < $entry->repeats; ++$pass, $at += $ticks) {
                array_push($ways, ...self::ways($beat, $entry->section, $ticks, $at));
            }
        }

        return TempoMap::along($beat->tempo, $ways);
    }

    /** Of a section or a pattern from its start, as it comes first in the song; or of a stretch of the song. */
    public static function of(Beat $beat, string $what): TempoMap
    {
        if (!self::moves($beat)) {
            return TempoMap::steady($beat->tempo);
        }
        $stretch = Stretch::named($what);
        $tick = $stretch->from ?? (isset($beat->sections[$what]) ? Passage::tickOf($beat, $what) : null);
        if (null !== $tick) {
            return self::song($beat)->from($tick);
        }
        $ticks = isset($beat->sections[$what]) ? (float) Passage::of($beat, $what, true)->ticks : 0.0;

        return TempoMap::along($beat->tempo, 0.0 === $ticks ? [] : self::ways($beat, $what, $ticks, null));
    }

    public static function moves(Beat $beat): bool
    {
        return [] !== $beat->movements->only(static fn (Movement $m): bool => $m->on && Movement::TEMPO === $m->path)->all;
    }

    private static function movement(Beat $beat, Scope $scope, string $of): ?Movement
    {
        $movement = $beat->movements->find($scope, $of, Movement::TEMPO);

        return true === $movement?->on ? $movement : null;
    }

    /**
     * One pass of a section.
     *
     * @param float|null $song tick of the song at which it begins; null beside it
     *
     * @return list<array{float, float, float, float}> as TempoMap::along() wants them
     */
    private static function ways(Beat $beat, string $section, float $ticks, ?float $song): array
    {
        $own = self::movement($beat, Scope::Section, $section);
        $over = null === $song ? null : self::movement($beat, Scope::Song, '');
        $at = $song ?? 0.0;

        return match (true) {
            null !== $own => self::moved($own->curve, 0.0, $ticks, $at),
            null !== $over => self::moved($over->curve, $at, $ticks, $at),
            default => [[$at, $beat->tempo->bpm, $at + $ticks, $beat->tempo->bpm]],
        };
    }

    /** @return list<array{float, float, float, float}> */
    private static function moved(Curve $curve, float $from, float $ticks, float $at): array
    {
        // A document may hold what no change would set.
        $bpm = static fn (float $value): float => max(Tempo::SLOWEST, min(Tempo::MAX, $value));

        return array_map(static fn (array $way): array => [$at + $way[0] - $from, $bpm($way[1]), $at + $way[2] - $from, $bpm($way[3])], $curve->ways($from, $from + $ticks));
    }
}
