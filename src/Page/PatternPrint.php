<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Pattern\Pattern;

/** A pattern drawn small, as the path of an SVG 100 wide and 24 high: upright lines for hits in the rows of their pads, level ones for notes in the rows of their pitches. */
final class PatternPrint
{
    private const WIDTH = 100.0;
    private const HEIGHT = 24.0;

    public static function path(Beat $beat, Pattern $pattern): string
    {
        $rows = [] === $pattern->hits ? self::pitches($pattern) : self::pads($beat, $pattern);
        $height = self::HEIGHT / max(3, \count($rows));
        $path = '';
        foreach ($pattern->hits as $hit) {
            if (isset($rows[$hit->pad])) {
                $path .= \sprintf('M%.2f %.2fv-%.2f', self::WIDTH * $hit->tick / $pattern->ticks + 0.3, ($rows[$hit->pad] + 1) * $height - 0.4, max(1.0, ($height - 0.8) * $hit->velocity / 127));
            }
        }
        foreach ($pattern->notes as $note) {
            $path .= \sprintf('M%.2f %.2fh%.2f', self::WIDTH * $note->tick / $pattern->ticks + 0.3, ($rows[$note->pitch] + 0.5) * $height, max(0.5, self::WIDTH * min($note->length, $pattern->ticks - $note->tick) / $pattern->ticks - 0.6));
        }

        return $path;
    }

    /** @return array<string, int> row of each pad that plays, from the top */
    private static function pads(Beat $beat, Pattern $pattern): array
    {
        $playing = array_intersect(array_keys($beat->kit->pads), array_column($pattern->hits, 'pad'));

        return array_flip(array_values($playing));
    }

    /** @return array<int, int> row of each pitch between the highest and the lowest, from the top */
    private static function pitches(Pattern $pattern): array
    {
        $pitches = array_column($pattern->notes, 'pitch');

        return [] === $pitches ? [] : array_flip(range(max($pitches), min($pitches)));
    }
}
