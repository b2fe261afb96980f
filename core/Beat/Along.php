<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;

/**
 * What moves, what is placed on tracks and markers go along with what they belong to: over the song with the sections they
 * lie under, when these are put in another order or become longer or shorter; and what belongs to sections, patterns, pads and parts that are gone goes with them.
 */
final readonly class Along
{
    public static function with(Beat $before, Beat $after): Beat
    {
        $after = self::placed($before, $after);
        $movements = $after->movements;
        if ($movements->isEmpty()) {
            return $after;
        }
        $song = static fn (Movement $m): bool => Scope::Song === $m->scope;
        [$was, $is] = [self::layout($before), self::layout($after)];
        // A change that saw to it itself is right.
        if ($was !== $is && $before->movements->only($song)->all == $movements->only($song)->all) {
            $runs = new Runs(self::runs($was, $is));
            $movements = $movements->each(static fn (Movement $m): Movement => $song($m) ? $m->with(['curve' => $runs->curve($m->curve)]) : $m);
        }
        if ($before->sections !== $after->sections || $before->patterns !== $after->patterns) {
            $movements = $movements->ownedBy(Scope::Section, ...array_keys($after->sections))->ownedBy(Scope::Pattern, ...array_keys($after->patterns));
        }

        if ($before->kit !== $after->kit || $before->parts !== $after->parts) {
            // What an older version let move and this one does not know is kept.
            $gone = static fn (Movement $m): bool => !$m->movesMixer() && null === Parameters::find($after, $m->path) && null !== Parameters::find($before, $m->path);
            $movements = [] === array_filter($movements->all, $gone) ? $movements : $movements->only(static fn (Movement $m): bool => !$gone($m));
        }

        return $movements === $after->movements ? $after : $after->with(['movements' => $movements]);
    }

    /**
     * Clips and markers stay under the section they begin under, and go with a coming of it that goes. A section that falls
     * silent, or sounds again, moves nothing: what lies over it would not find back.
     */
    private static function placed(Beat $before, Beat $after): Beat
    {
        $nothing = [] === $after->clips && [] === $after->markers;
        // A change that saw to it itself is right.
        if ($nothing || $before->clips !== $after->clips || $before->markers !== $after->markers || ($before->song === $after->song && $before->sections === $after->sections && $before->patterns === $after->patterns)) {
            return $after;
        }
        [$was, $is] = [self::layout($before), self::layout($after)];
        $kept = array_intersect_key($before->song, $after->song);
        if ($was === $is || array_intersect_key($kept, $was) !== array_intersect_key($kept, $is)) {
            return $after;
        }
        $tick = static fn (int $at): ?int => self::tick($at, $was, $is);
        $clips = array_map(static fn (Clip $c): ?Clip => null === ($at = '' === $c->fixed ? $tick($c->at) : self::withEntry($c, $was, $is)) ? null : $c->with(['at' => $at]), $after->clips);
        $markers = array_map(static fn (Marker $m): ?Marker => null === ($at = $tick($m->at)) ? null : $m->at($at), $after->markers);

        return $after->with(['clips' => array_filter($clips), 'markers' => array_filter($markers)]);
    }

    /**
     * A part that is fixed as sound begins a little early, and goes with the section it is of.
     *
     * @param array<string, array{int, int}> $was
     * @param array<string, array{int, int}> $is
     */
    private static function withEntry(Clip $clip, array $was, array $is): ?int
    {
        $entry = explode('/', $clip->fixed)[0];
        $known = isset($was[$entry], $is[$entry]);

        return $known ? max(0, $clip->at + $is[$entry][0] - $was[$entry][0]) : (isset($was[$entry]) ? null : $clip->at);
    }

    /**
     * Where a place of the song has come to lie; null where it is gone. What lay under the end of a section that became
     * shorter stays as far from the start of the song.
     *
     * @param array<string, array{int, int}> $was
     * @param array<string, array{int, int}> $is
     */
    private static function tick(int $at, array $was, array $is): ?int
    {
        foreach ($was as $entry => [$from, $ticks]) {
            if ($at < $from + $ticks) {
                $now = $is[$entry] ?? null;

                return null === $now ? null : ($at - $from < $now[1] ? $at - $from + $now[0] : $at);
            }
        }

        // Behind the end of the song, it stays as far behind it.
        return $at - array_sum(array_column($was, 1)) + array_sum(array_column($is, 1));
    }

    /** @return array<string, array{int, int}> by entry of the song: its tick and how long it goes */
    private static function layout(Beat $beat): array
    {
        $layout = [];
        $at = 0;
        foreach (Passage::song($beat) as $entry) {
            $ticks = $entry->repeats * $beat->section($entry->section)->lengthTicks($beat->patterns);
            $layout[$entry->id] = [$at, $ticks];
            $at += $ticks;
        }

        return $layout;
    }

    /**
     * What stays together: where it was, where it is and how long both are. What is new, and what became longer, is in none:
     * there it stays as it was just before.
     *
     * @param array<string, array{int, int}> $before
     * @param array<string, array{int, int}> $now
     *
     * @return list<array{int, int, int}>
     */
    private static function runs(array $before, array $now): array
    {
        $runs = [];
        foreach ($now as $key => [$start, $ticks]) {
            if (!isset($before[$key])) {
                continue;
            }
            [$was, $long] = $before[$key];
            [$lastWas, $lastStart, $lastTicks] = end($runs) ?: [-1, -1, 0];
            if ($lastWas + $lastTicks === $was && $lastStart + $lastTicks === $start) {
                array_pop($runs);
                $runs[] = [$lastWas, $lastStart, $lastTicks + min($ticks, $long)];
            } else {
                $runs[] = [$was, $start, min($ticks, $long)];
            }
        }

        return $runs;
    }
}
