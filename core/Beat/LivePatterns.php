<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Lane;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Theory\Meter;

/** What becomes of patterns while a beat is performed: begun in their midst, only their start over and over, half as fast, backwards. */
final class LivePatterns
{
    /**
     * It begins at one of its ticks and goes round from there.
     *
     * @return array{Pattern, list<array{int, int, int}>} and its runs, for what moves in it
     */
    public static function turned(Pattern $pattern, int $at, Meter $meter): array
    {
        $runs = [[$at, 0, $pattern->ticks - $at], [0, $pattern->ticks - $at, $at]];
        [$own, $others] = self::parted($pattern);
        $turned = $pattern->with(['hits' => $others])->rearranged($runs, $pattern->ticks);
        $bar = $meter->barTicks();
        $name = 0 === $at % $bar ? \sprintf('%s, from bar %d', $pattern->name, 1 + intdiv($at, $bar)) : \sprintf('%s, from beat %s', $pattern->name, round(1 + $at / $meter->beatTicks(), 2));
        $moved = static function (Hit $hit) use ($pattern, $at): Hit {
            // A lane of a length of its own is somewhere in a round of its own.
            $round = $pattern->lane($hit->pad)->ticks ?? $pattern->ticks;

            return $hit->later((($hit->tick - $at) % $round + $round) % $round - $hit->tick);
        };

        return [$turned->with(['name' => mb_substr($name, 0, 80), 'hits' => [...$turned->hits, ...array_map($moved, $own)]]), $runs];
    }

    /** Its first ticks alone. */
    public static function stuttered(Pattern $pattern, int $ticks): Pattern
    {
        $lanes = array_map(static fn (Lane $lane): Lane => $lane->with(['ticks' => null]), $pattern->lanes);

        return $pattern->rearranged([[0, 0, $ticks]], $ticks)->with(['name' => mb_substr($pattern->name, 0, 68).', stuttered', 'lanes' => $lanes]);
    }

    public static function slowed(Pattern $pattern): Pattern
    {
        $slow = static fn (Hit|Note $e): Hit|Note => $e->placed(2 * ($e->tick * Hit::FINE + $e->fine), $e->velocity, 2.0 * $e->lengthTicks());
        $lanes = array_map(static fn (Lane $lane): Lane => $lane->with(['ticks' => null === $lane->ticks ? null : 2 * $lane->ticks]), $pattern->lanes);

        return $pattern->with(['name' => mb_substr($pattern->name, 0, 64).', half as fast', 'ticks' => 2 * $pattern->ticks, 'hits' => array_map($slow, $pattern->hits), 'notes' => array_map($slow, $pattern->notes), 'lanes' => $lanes]);
    }

    /** Backwards from its start, round and round: hits fall where they would be passed, notes begin where they would have ended. Lanes of a length of their own go back in theirs. */
    public static function mirrored(Pattern $pattern): Pattern
    {
        $back = static function (Hit|Note $e) use ($pattern): Hit|Note {
            $round = Hit::FINE * ($e instanceof Hit ? $pattern->lane($e->pad)->ticks ?? $pattern->ticks : $pattern->ticks);
            $passed = $e->tick * Hit::FINE + $e->fine + ($e instanceof Note ? (int) round($e->lengthTicks() * Hit::FINE) : 0);

            return $e->placed((-$passed % $round + $round) % $round, $e->velocity, $e->lengthTicks());
        };

        return $pattern->with(['name' => mb_substr($pattern->name, 0, 68).', backwards', 'hits' => array_map($back, $pattern->hits), 'notes' => array_map($back, $pattern->notes)]);
    }

    /** @return array{list<Hit>, list<Hit>} those of lanes that go round by themselves, and the others */
    private static function parted(Pattern $pattern): array
    {
        $goesRound = static fn (Hit $hit): bool => null !== $pattern->lane($hit->pad)->ticks && $hit->tick < $pattern->lane($hit->pad)->ticks;

        return [array_values(array_filter($pattern->hits, $goesRound)), array_values(array_filter($pattern->hits, static fn (Hit $hit): bool => !$goesRound($hit)))];
    }
}
