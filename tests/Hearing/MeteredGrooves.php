<?php

namespace Pestle\Tests\Hearing;

/** Grooves whose bars are not four quarters, step by step, drawn by mt_rand. */
final class MeteredGrooves
{
    /** Steps in a bar and in a beat, and the slowest and fastest beat a minute. */
    public const METERS = ['3/4' => [12, 4, 78, 180], '6/8' => [6, 3, 46, 76], '12/8' => [12, 3, 76, 140]];
    private const KICKS = [
        '3/4' => [[0], [0, 10], [0, 6], [0, 3], [0, 7]], '6/8' => [[0], [0, 5], [0, 2], [0, 4]],
        '12/8' => [[0, 6], [0, 5, 6], [0, 8], [0, 2, 6], [0, 4, 6], [0, 7]],
    ];
    private const BACK = ['3/4' => [[4, 8], [8], [4]], '6/8' => [[3]], '12/8' => [[3, 9]]];
    private const TOPS = ['3/4' => [[0, 2, 4, 6, 8, 10], [0, 4, 8], [0, 4, 6, 8, 10]], '6/8' => [[0, 1, 2, 3, 4, 5], [0, 2, 3, 5]], '12/8' => [[0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11], [0, 2, 3, 5, 6, 8, 9, 11]]];

    /** @return array<int, list<array{int, int}>> drum note and velocity by step */
    public static function drums(string $meter, int $bars): array
    {
        [$steps] = self::METERS[$meter];
        [$kicks, $back, $tops] = [self::one(self::KICKS[$meter]), self::one(self::BACK[$meter]), self::one(self::TOPS[$meter])];
        // Without its middle third a groove in twelve is one that swings: a ghost tells.
        $ghosts = '12/8' === $meter && 8 === \count($tops) ? self::one([[1, 7], [4, 10], [4, 7], [10]]) : [];
        [$kick, $snare, $top] = [36, [38, 38, 40, 37, 39][mt_rand(0, 4)], [42, 42, 51, 54, 70][mt_rand(0, 4)]];
        $crash = 0 === mt_rand(0, 3);
        $hits = [];
        for ($at = 0; $at < $steps * $bars; ++$at) {
            $s = $at % $steps;
            if (\in_array($s, $kicks, true)) {
                $hits[$at][] = [$kick, mt_rand(95, 127)];
            }
            if (\in_array($s, $back, true)) {
                $hits[$at][] = [$snare, mt_rand(95, 127)];
            } elseif (\in_array($s, $ghosts, true)) {
                $hits[$at][] = [38, mt_rand(45, 75)];
            }
            if (\in_array($s, $tops, true)) {
                $hits[$at][] = [$top, 0 === $s % self::METERS[$meter][1] ? mt_rand(80, 110) : mt_rand(55, 90)];
            }
            if (0 === $at && $crash) {
                $hits[$at][] = [49, 100];
            }
        }

        return $hits;
    }

    /** @return array<int, list<array{int, int, int, float}>> channel, note, velocity and steps of bass and chords by step */
    public static function music(string $meter, int $bars): array
    {
        [$steps, $beat] = self::METERS[$meter];
        $tonic = mt_rand(0, 11);
        $degrees = [0, [5, 3, 8][mt_rand(0, 2)], [0, 7, 10][mt_rand(0, 2)], [5, 7][mt_rand(0, 1)]];
        [$bass, $chords] = [[[0], [0, $steps - $beat], [0, $steps - 1]][mt_rand(0, 2)], [[0], [$beat], [$beat, $steps - $beat]][mt_rand(0, 2)]];
        $out = [];
        for ($bar = 0; $bar < $bars; ++$bar) {
            $root = $tonic + $degrees[$bar % 4];
            foreach ($bass as $s) {
                $out[$steps * $bar + $s][] = [1, 28 + $root % 12, mt_rand(80, 110), $beat * 0.8];
            }
            foreach ($chords as $s) {
                foreach ([0, 3, 7, 10] as $interval) {
                    $out[$steps * $bar + $s][] = [0, 54 + ($root + $interval) % 12, mt_rand(50, 85), (float) $beat];
                }
            }
        }

        return $out;
    }

    /**
     * @param non-empty-list<list<int>> $of
     *
     * @return list<int>
     */
    private static function one(array $of): array
    {
        return $of[mt_rand(0, \count($of) - 1)];
    }
}
