<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Mix\Memory;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** What inserts remember, and what they say about how far they pulled down. */
final class MemoryTest extends TestCase
{
    /** Whatever comes in which pieces: the last frames are there, exactly, before and after it waited; equal memories have equal names. */
    public function testTheLastFramesAreThereHoweverTheyCame(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(4));
        $memory = Memory::none(9000);
        $said = array_fill(0, 9000, 0.0);
        for ($k = 0; $k < 40; ++$k) {
            $more = [];
            for ($i = $chance->getInt(1, 5000); $i > 0; --$i) {
                $more[] = $chance->getInt(-4_194_304, 4_194_304) * Memory::STEP;
            }
            $turned = array_map(static fn (float $x): float => -$x, $more);
            $memory = $memory->followedBy([$more, $turned]);
            $said = \array_slice([...$said, ...$more], -9000);
            if (0 === $k % 3) {
                $memory->wait();
            }
            $from = $chance->getInt(0, 8000);
            self::assertSame(\array_slice($said, $from, 700), $memory->read(0, $from, 700));
            self::assertEquals(-1.0 * $said[$from], $memory->read(1, $from, 1)[0]);
        }
        $same = $memory->followedBy([[0.5], [0.25]]);
        self::assertSame($same->name(), $memory->followedBy([[0.5], [0.25]])->name());
        self::assertNotSame($same->name(), $memory->followedBy([[0.5], [0.75]])->name());
    }

    public function testSilenceIsForgotten(): void
    {
        $memory = Memory::none(5000)->followedBy([array_fill(0, 100, 0.5)]);
        self::assertNotSame(Memory::none(5000)->name(), $memory->name());
        for ($k = 0; $k < 5; ++$k) {
            $memory = $memory->followedBy([array_fill(0, 4096, 0.0)]);
        }
        self::assertSame([Memory::none(5000)->name(), 0], [$memory->name(), $memory->bytes()]);
        self::assertSame([0.0, 0.0], $memory->read(0, 10, 2));
    }

    public function testReductionsAreTheLowestOfEachStretch(): void
    {
        $targets = [...array_fill(0, 64, 1.0), 0.5, ...array_fill(0, 127, 0.8)];
        $curve = new GainCurve(1.0, $targets);
        $gains = $curve->expand(192 * 16);
        foreach ($curve->reductions(192 * 16, 1024) as $k => $lowest) {
            self::assertEqualsWithDelta(min([1.0, ...\array_slice($gains, 1024 * $k, 1024)]), $lowest, 1e-9);
        }
        // With make-up, what counts is how far it lies under it; where nothing is told any more it stays.
        self::assertSame([0.5, 0.5], (new GainCurve(2.0, [1.0], 2.0))->reductions(4096, 2048));
        self::assertSame([1.0, 0.25], GainCurve::along([...array_fill(0, 2048, 1.0), 0.25, ...array_fill(0, 2047, 1.0)])->reductions(4096, 2048));
    }
}
