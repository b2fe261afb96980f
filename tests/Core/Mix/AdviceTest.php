<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Advice;
use Pestle\Core\Mix\Mixer;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

final class AdviceTest extends TestCase
{
    public function testEachFaultIsToldWithWhatMendsIt(): void
    {
        $all = $this->advice(lufs: -20.3, truePeakDb: -0.2, limiterDb: -1.0, correlation: 0.05, peaksDb: ['c1' => -2.0, 'c2' => -9.0, 'drums' => 3.0])->towards(-14.0);
        self::assertSame([
            ['Before the master Boom peaks highest, at −2.0 dBFS; near −10 leaves everything behind it room.', 'All channels −8.0 dB, master +8.0 dB', ['type' => 'stage-gains', 'byDb' => -8.0]],
            ['It is 6.3 LU softer than aimed for; lifted that far the limiter would have much to do: make the loudest sounds softer first.', 'Master +6.3 dB', ['type' => 'set', 'mixer/master/gainDb' => 6.3]],
            ['True peaks reach −0.2 dB: a lossy copy may clip.', 'Ceiling at −1 dB', ['type' => 'set', 'mixer/master/ceilingDb' => -1.0]],
            ['Left and right have little in common (0.05): played in mono much of it is lost. Stereo inserts can keep the lows in the middle.', null, null],
        ], array_map(array_values(...), $all));
    }

    public function testWhatIsRightIsLeftAlone(): void
    {
        $fine = $this->advice();
        self::assertSame(['Nothing to do: level, peaks and sides are as they should be.'], array_column($fine->towards(-14.0), 'words'));
        self::assertSame(['It is 2.0 LU louder than aimed for.'], array_column($fine->towards(-16.0), 'words'));
        self::assertSame([], array_filter(array_column($fine->towards(-14.4), 'does')), 'half a unit is near enough');
        self::assertSame(['Nothing sounds here.'], array_column($this->advice(lufs: -70.0)->towards(-14.0), 'words'));
        // Groups and lines that are gone are no channels.
        self::assertNull($this->advice(peaksDb: ['drums' => 6.0, 'c77' => 6.0])->towards(-14.0)[0]['change']);
    }

    /** @param array<string, float> $peaksDb */
    private function advice(float $lufs = -14.0, float $truePeakDb = -1.0, float $limiterDb = -2.0, float $correlation = 0.8, array $peaksDb = ['c1' => -10.5]): Advice
    {
        return new Advice(self::mixer(), $lufs, $truePeakDb, $limiterDb, $correlation, $peaksDb);
    }

    private static function mixer(): Mixer
    {
        $fill = static fn (string $pad, string $name): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('a', 64), 'name' => $name, 'role' => 'kick', 'start' => 0, 'end' => 900];

        return RandomBeats::changed(Beat::empty('Mixed'), [$fill('a0', 'Boom'), $fill('a1', 'Tick')])->mixer;
    }
}
