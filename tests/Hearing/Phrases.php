<?php

namespace Pestle\Tests\Hearing;

/** Single lines and chords for one instrument, drawn by mt_rand. */
final class Phrases
{
    /** General MIDI programs of instruments that play lines, and of those that play chords. */
    private const LINES = [0, 4, 6, 11, 12, 16, 21, 24, 26, 29, 32, 33, 36, 38, 40, 42, 45, 52, 53, 56, 57, 60, 64, 65, 66, 68, 71, 73, 75, 80, 81, 85];
    private const CHORDS = [0, 1, 2, 4, 5, 6, 7, 11, 16, 17, 18, 21, 24, 25, 26, 27, 46, 48, 50, 52, 61, 88, 89, 90, 91];
    private const BASSES = [32, 33, 36, 38];
    private const SCALES = [[0, 2, 4, 5, 7, 9, 11], [0, 2, 3, 5, 7, 8, 10], [0, 3, 5, 7, 10]];
    private const CHORD_SHAPES = [[0, 4, 7], [0, 3, 7], [0, 4, 7, 11], [0, 3, 7, 10], [0, 4, 7, 10], [0, 5, 7], [0, 7], [0, 3], [0, 4], [0, 12, 16, 19], [0, 7, 15], [0, 10, 15]];

    /** @return array{Score, list<array{float, float, int}>} what is played, and its notes: start, end in seconds, MIDI number */
    public static function line(): array
    {
        $program = self::LINES[mt_rand(0, \count(self::LINES) - 1)];
        $low = \in_array($program, self::BASSES, true) ? mt_rand(28, 38) : mt_rand(45, 66);
        $scale = self::SCALES[mt_rand(0, 2)];
        $score = new Score();
        $score->program(0, $program);
        $beat = 60.0 / mt_rand(70, 140);
        $notes = [];
        $at = 0.05;
        $degree = mt_rand(0, 5);
        $held = mt_rand(55, 102) / 100;
        for ($i = mt_rand(10, 18); $i > 0; --$i) {
            $length = $beat * [0.25, 0.5, 0.5, 0.5, 1.0, 1.0, 1.5][mt_rand(0, 6)];
            if (0 !== mt_rand(0, 7)) {
                $pitch = $low + $scale[$degree % \count($scale)] + 12 * intdiv($degree, \count($scale));
                $score->note($at, $length * $held, 0, $pitch, mt_rand(60, 115));
                $notes[] = [$at, $at + $length * $held, $pitch];
            }
            $at += $length;
            $degree = max(0, min(12, $degree + [-3, -2, -1, -1, 0, 1, 1, 2, 4][mt_rand(0, 8)]));
        }

        return [$score, $notes];
    }

    /** @return array{Score, list<array{float, float, int}>} */
    public static function chords(): array
    {
        $score = new Score();
        $score->program(0, self::CHORDS[mt_rand(0, \count(self::CHORDS) - 1)]);
        $score->program(1, self::BASSES[mt_rand(0, \count(self::BASSES) - 1)]);
        $beat = 60.0 / mt_rand(70, 130);
        $bass = 0 === mt_rand(0, 2);
        $strum = 0 === mt_rand(0, 3) ? mt_rand(5, 25) / 1000 : 0.0;
        $tonic = mt_rand(45, 60);
        $notes = [];
        $at = 0.05;
        for ($i = mt_rand(5, 10); $i > 0; --$i) {
            $length = $beat * [0.5, 1.0, 1.0, 1.5, 2.0, 2.0][mt_rand(0, 5)];
            $root = $tonic + [0, 2, 3, 5, 7, 8, 9][mt_rand(0, 6)];
            foreach (self::CHORD_SHAPES[mt_rand(0, \count(self::CHORD_SHAPES) - 1)] as $k => $interval) {
                $pitch = $root + $interval - ($interval > 0 && $root + $interval > $tonic + 17 ? 12 : 0);
                $score->note($at + $k * $strum, 0.9 * $length, 0, $pitch, mt_rand(65, 105));
                $notes[] = [$at + $k * $strum, $at + 0.9 * $length, $pitch];
            }
            if ($bass) {
                $score->note($at, 0.9 * $length, 1, $root - 24 + ($root - 24 < 28 ? 12 : 0), mt_rand(80, 105));
                $notes[] = [$at, $at + 0.9 * $length, $root - 24 + ($root - 24 < 28 ? 12 : 0)];
            }
            $at += $length;
        }
        // A note that two of them play is one.
        $once = [];
        foreach ($notes as $note) {
            $once[\sprintf('%.3f/%d', $note[0], $note[2])] = $note;
        }

        return [$score, array_values($once)];
    }
}
