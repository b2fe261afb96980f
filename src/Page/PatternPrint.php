<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Pattern\Pattern;

/** A pattern drawn small, as the path of an SVG 100 wide and 24 high: upright lines for hits in the rows of their pads, level ones for notes in the rows of their pitches. */
final class PatternPrint
{
    private const WIDTH = 100.0;
    private const HEIGHT = 24.0;
    /** Places beside one another that can be told apart. */
    private const PLACES = 500;

    public static function path(Beat $beat, Pattern $pattern): string
    {
        $rows = [] === $pattern->hits ? self::pitches($pattern) : self::pads($beat, $pattern);
        $height = self::HEIGHT / max(3, \count($rows));
        $path = '';
        // Where the pen is: a path of steps from one to the next is half as long, and a pattern may hold thousands.
        [$atX, $atY] = [0.0, 0.0];
        $to = static function (float $x, float $y) use (&$path, &$atX, &$atY): void {
            [$dx, $dy] = [round($x - $atX, 1), round($y - $atY, 1)];
            $path .= 'm'.self::number($dx).($dy < 0 ? '' : ' ').self::number($dy);
            [$atX, $atY] = [$atX + $dx, $atY + $dy];
        };
        // Of those that fall on one place of the picture the last is drawn.
        $drawn = [];
        foreach ($pattern->hits as $hit) {
            if (isset($rows[$hit->pad])) {
                $drawn[self::place($hit->tick, $pattern).' '.$hit->pad] = $hit;
            }
        }
        foreach ($drawn as $hit) {
            $tall = round(max(1.0, ($height - 0.8) * $hit->velocity / 127), 1);
            $to(self::WIDTH * $hit->tick / $pattern->ticks + 0.3, ($rows[$hit->pad] + 1) * $height - 0.4);
            $path .= 'v-'.self::number($tall);
            $atY -= $tall;
        }
        $drawn = [];
        foreach ($pattern->notes as $note) {
            $drawn[self::place($note->tick, $pattern).' '.$note->pitch] = $note;
        }
        foreach ($drawn as $note) {
            $long = round(max(0.5, self::WIDTH * min($note->length, $pattern->ticks - $note->tick) / $pattern->ticks - 0.6), 1);
            $to(self::WIDTH * $note->tick / $pattern->ticks + 0.3, ($rows[$note->pitch] + 0.5) * $height);
            $path .= 'h'.self::number($long);
            $atX += $long;
        }

        return '' === $path ? '' : 'M0 0'.$path;
    }

    private static function place(int $tick, Pattern $pattern): int
    {
        return (int) round(self::PLACES * $tick / $pattern->ticks);
    }

    private static function number(float $x): string
    {
        return (string) preg_replace('/^(-?)0\./', '$1.', (string) round($x, 1));
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
