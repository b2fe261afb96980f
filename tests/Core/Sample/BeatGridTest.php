<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Sample\BeatGrid;
use PHPUnit\Framework\TestCase;

final class BeatGridTest extends TestCase
{
    public function testEvenBeatsCoverTheRecordingFromAnyDownbeat(): void
    {
        self::assertSame([0, 22050, 44100, 66150], BeatGrid::even(120.0, 0.0, 88200, 44100));
        // A downbeat inside: beats reach back to the start.
        self::assertSame([4410, 26460, 48510, 70560], BeatGrid::even(120.0, 1.1, 88200, 44100));
        // One before the start: its beats go on inside.
        self::assertSame([17640, 39690, 61740, 83790], BeatGrid::even(120.0, -0.1, 88200, 44100));
        self::assertSame([0], BeatGrid::even(60.0, 0.0, 10, 44100));
    }

    public function testATempoFromAStretch(): void
    {
        self::assertSame(120.0, BeatGrid::tempo(8, 4.0));
        foreach ([73.5, 99.0, 171.2] as $bpm) {
            self::assertEqualsWithDelta($bpm, BeatGrid::tempo(16, 16 * 60 / $bpm), 1e-9);
        }
    }
}
