<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Sample\Snap;
use Pestle\Core\Sample\TempoMark;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BeatGridTest extends TestCase
{
    public function testEvenBeatsCoverTheRecordingFromAnyDownbeat(): void
    {
        self::assertSame([0, 22050, 44100, 66150], array_values(BeatGrid::even(120.0, 0.0)->lines(88200, 44100)));
        // A downbeat inside: beats reach back to the start.
        self::assertSame([-2 => 4410, -1 => 26460, 0 => 48510, 1 => 70560], BeatGrid::even(120.0, 1.1)->lines(88200, 44100));
        // One before the start: its beats go on inside.
        self::assertSame([1 => 17640, 2 => 39690, 3 => 61740, 4 => 83790], BeatGrid::even(120.0, -0.1)->lines(88200, 44100));
        self::assertSame([0], BeatGrid::even(60.0, 0.0)->lines(10, 44100));
    }

    public function testATempoFromAStretchAndFromTaps(): void
    {
        self::assertSame(120.0, BeatGrid::tempo(8, 4.0));
        self::assertEqualsWithDelta(96.0, BeatGrid::tapped([0.0, 0.625, 1.25, 1.875]), 1e-9);
        // A tap that is 20 ms off pulls less than the whole of it.
        self::assertEqualsWithDelta(96.0, BeatGrid::tapped([0.0, 0.645, 1.25, 1.875, 2.5, 3.125]), 1.0);
        $this->expectExceptionMessage('Tap at least four times.');
        BeatGrid::tapped([0.0, 0.5, 1.0]);
    }

    public function testALineThatIsMovedIsHeldAndOthersSpread(): void
    {
        $grid = BeatGrid::even(120.0, 0.0)->moved(8, 4.4);
        self::assertEqualsWithDelta([0.0, 0.55, 2.2, 4.4, 4.95], array_map($grid->seconds(...), [0, 1, 4, 8, 9]), 1e-9);
        // A second one leaves what lies before it alone.
        $two = $grid->moved(16, 8.0);
        self::assertEqualsWithDelta([2.2, 4.4, 6.2, 8.0, 8.45], array_map($two->seconds(...), [4, 8, 12, 16, 17]), 1e-9);
        self::assertSame([109.1, 133.3, 133.3], array_map(static fn (int $i): float => round($two->bpmAfter($i), 1), [0, 1, 2]));
        // Spread: everything after it keeps the new tempo, marks there are gone.
        $spread = $two->spread(12, 6.4);
        self::assertEqualsWithDelta([4.4, 6.4, 8.4], array_map($spread->seconds(...), [8, 12, 16]), 1e-9);
        self::assertCount(2, $spread->marks);
        self::assertEqualsWithDelta(5.0 / 4.0, $two->without(8)->seconds(2.5), 1e-9);
        self::assertTrue($two->cleared(8.0)->isEven());
        self::assertEqualsWithDelta(120.0, $two->cleared(8.0)->bpm, 1e-9);
    }

    public function testATempoChangesAtOnceOrGlides(): void
    {
        $sudden = new BeatGrid([new TempoMark(0, 0.0), new TempoMark(8, 4.0), new TempoMark(16, 10.0)], 80.0);
        self::assertEqualsWithDelta(4.75, $sudden->seconds(9), 1e-9);
        $gliding = $sudden->changing(8, true);
        // Held lines stay; just after the change a beat is shorter than at the end of its stretch.
        self::assertEqualsWithDelta([0.0, 4.0, 10.0], array_map($gliding->seconds(...), [0, 8, 16]), 1e-9);
        self::assertLessThan(0.68, $gliding->seconds(9) - $gliding->seconds(8));
        self::assertGreaterThan(0.75, $gliding->seconds(16) - $gliding->seconds(15));
        // No beat ever goes backwards, and asking back and forth agrees.
        $before = -10.0;
        for ($beat = -4.0; $beat < 24.0; $beat += 0.25) {
            self::assertGreaterThan($before, $before = $gliding->seconds($beat));
            self::assertEqualsWithDelta($beat, $gliding->beat($before), 1e-6);
        }
    }

    public function testMisreadingsAreMended(): void
    {
        $grid = BeatGrid::even(120.0, 0.5)->moved(12, 6.9);
        self::assertEqualsWithDelta([0.5, 6.9], array_map($grid->times(2.0)->seconds(...), [0, 24]), 1e-9);
        self::assertEqualsWithDelta([0.5, 6.9], array_map($grid->times(0.75)->seconds(...), [0, 9]), 1e-9);
        self::assertEqualsWithDelta(0.75 * 112.5, $grid->times(0.75)->bpm, 1e-9);
        self::assertEqualsWithDelta([0.51, 6.91], array_map($grid->shifted(0.01)->seconds(...), [0, 12]), 1e-9);
        // The first bar begins elsewhere: the nearest line comes there and is the new first one.
        $from = BeatGrid::even(120.0, 0.0)->from(1.03);
        self::assertEqualsWithDelta([1.03, 1.53], array_map($from->seconds(...), [0, 1]), 1e-9);
        self::assertEqualsWithDelta(90.0, BeatGrid::even(120.0, 0.0)->withTempo(90.0)->bpm, 1e-9);
        $later = $grid->withTempo(60.0, 16);
        self::assertEqualsWithDelta(1.0, $later->seconds(18) - $later->seconds(17), 1e-9);
        self::assertEqualsWithDelta($grid->seconds(16), $later->seconds(16), 1e-9);
        $stretch = $grid->stretch(7.0, 9.0, 4);
        self::assertEqualsWithDelta(120.0, $stretch->bpmAfter(\count($stretch->marks) - 2), 1e-9);
        self::assertEqualsWithDelta(93.0, BeatGrid::even(120.0, 0.0)->stretch(1.0, 1.0 + 480 / 93.0, 8)->bpm, 1e-9);
    }

    public function testUnevenBeatsThatWereHeardAreHeldAtBars(): void
    {
        $beats = $times = [];
        for ($i = 0, $t = 0.8; $i < 41; ++$i, $t += 60 / (84 + 0.5 * $i)) {
            $beats[] = $t;
        }
        $grid = BeatGrid::heard($beats, $beats[2], 94.0);
        self::assertFalse($grid->isEven());
        foreach ($beats as $i => $seconds) {
            self::assertEqualsWithDelta($seconds, $grid->seconds($i - 2), 0.006);
        }
        self::assertEqualsWithDelta(94.0, $grid->meanBpm($beats[40]), 3.0);
        $even = array_map(static fn (int $i): float => 0.3 + 0.5 * $i + 0.004 * ($i % 2), range(0, 30));
        self::assertTrue(BeatGrid::heard($even, 0.3, 120.0)->isEven());
        self::assertEquals($grid->encode(), BeatGrid::decode($grid->encode())->encode());
    }

    /** @return iterable<string, array{callable(): mixed, string}> */
    public static function nonsense(): iterable
    {
        $grid = BeatGrid::even(120.0, 0.0)->moved(8, 4.0);
        yield 'past a held line' => [static fn () => $grid->moved(4, 4.5), 'past its neighbour'];
        yield 'much too fast' => [static fn () => $grid->moved(9, 4.05), 'a grid goes from 20 to 400'];
        yield 'the last one' => [static fn () => $grid->without(8)->without(0), 'One mark has to stay'];
        yield 'spread the first' => [static fn () => $grid->spread(0, 1.0), 'move this one itself'];
        yield 'no grid' => [static fn () => BeatGrid::decode('{"a":1}'), 'A grid is a list'];
        yield 'no mark' => [static fn () => BeatGrid::decode('[120,["x"]]'), 'A mark of a grid'];
        yield 'taps backwards' => [static fn () => BeatGrid::tapped([3.0, 2.0, 1.0, 0.0]), 'follow one another'];
        yield 'no length' => [static fn () => $grid->stretch(2.0, 2.0, 4), 'end after it begins'];
        yield 'a line on another' => [static fn () => $grid->moved(8, 0.0), 'end after it begins'];
        yield 'parts' => [static fn () => Slices::equal(4, 3), '1 to 3 equal parts'];
        yield 'no lines' => [static fn () => Slices::onGrid([], 1.0, 100), 'No line'];
    }

    #[DataProvider('nonsense')]
    public function testNonsenseIsRefused(callable $act, string $words): void
    {
        $this->expectException(\InvalidArgumentException::class);
        $this->expectExceptionMessage($words);
        $act();
    }

    public function testSlicesAndSnapsComeFromTheLines(): void
    {
        $lines = BeatGrid::even(120.0, 0.5)->lines(110250, 44100);
        self::assertSame([22050], [] === Slices::onGrid($lines, 0.25, 110250)->markers ? [] : \array_slice(Slices::onGrid($lines, 0.25, 110250)->markers, 0, 1));
        self::assertSame([0, 22050, 44100, 66150, 88200], Slices::onGrid($lines, 1.0, 110250)->markers);
        self::assertSame([0, 11025, 22050], \array_slice(Slices::onGrid($lines, 2.0, 110250)->markers, 0, 3));
        self::assertSame([0, 33, 66], Slices::equal(3, 100)->markers);
        self::assertSame(27563, Snap::toGrid($lines, 27000));
        self::assertSame(500, Snap::toGrid([], 500));
    }
}
