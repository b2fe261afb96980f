<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Panning;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\Segment;
use Pestle\Core\Render\Telescope;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

final class PlanTest extends TestCase
{
    public function testSegmentsCoverTheTimeAndStartAnewWithEverySection(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $beat = $beats->beat(4);
        $sounds = new PadSounds(new SampleLibrary($beats->folder), Beat::SAMPLE_RATE);
        $loop = Plan::loop($beat, 'p1', $sounds);
        self::assertSame($loop->frames, array_sum(array_map(static fn (Segment $s): int => $s->frames, iterator_to_array($loop->segments()))));
        $song = Plan::song($beat, [new Entry('', 'p1', 3)], $sounds);
        self::assertSame($beat->tempo->frames(3 * $beat->pattern('p1')->ticks, Beat::SAMPLE_RATE), $song->frames, 'rounded once, from the start');
        $at = 0;
        foreach ($song->segments() as $i => $segment) {
            self::assertSame([$i, $at], [$segment->index, $segment->start]);
            self::assertLessThanOrEqual(Segment::FRAMES, $segment->frames);
            $at += $segment->frames;
        }
        foreach ([1, 2, 3] as $pass) {
            self::assertContains($beat->tempo->frames($pass * $beat->pattern('p1')->ticks, Beat::SAMPLE_RATE), array_map(static fn (Segment $s): int => $s->start, iterator_to_array($song->segments())));
        }
        self::assertSame([], iterator_to_array(Plan::song($beat, [], $sounds)->segments()));
    }

    public function testWhatIsKeptPackedIsWhatWasThere(): void
    {
        $block = Gain::onGrid(Sounds::hit(8, 777));
        $rendered = Rendered::of($block, 777, [new InsertState([0.25, -1e-9]), new InsertState([1.0]), new InsertState([])]);
        $again = Rendered::decode($rendered->encode());
        self::assertNotNull($again);
        self::assertTrue($again->block()->left === $block->left && $again->block()->right === $block->right);
        self::assertSame([$rendered->peaks(), 777], [$again->peaks(), $again->frames]);
        self::assertTrue([true, true, true] === array_map(static fn (InsertState $a, InsertState $b): bool => $a->equals($b), $rendered->states, $again->states));
        $silence = Rendered::decode(Rendered::of(null, 100, [])->encode());
        self::assertTrue($silence?->isSilent());
        self::assertSame(100, $silence->block()->frames());
        foreach ([0, 5, 24, 40, 500] as $length) {
            self::assertNull(Rendered::decode(substr($rendered->encode(), 0, $length)));
        }
    }

    public function testPartsOfARoundedSumAddUp(): void
    {
        $parts = array_map(static fn (int $seed): StereoBlock => Gain::onGrid(Sounds::hit($seed, 500)), range(1, 7));
        $stage = static fn (StereoBlock $sum): StereoBlock => Gain::sides(Gain::sides($sum, 0.3333, 0.777), 1.2345, 0.9);
        $split = Telescope::split($parts, 500, $stage);
        $whole = $stage(Gain::sum($parts, 500));
        $sum = Gain::sum(array_values($split), 500);
        self::assertTrue($whole->left === $sum->left && $whole->right === $sum->right);
        foreach ($split as $i => $part) {
            $alone = $stage($parts[$i]);
            foreach ($part->left as $k => $x) {
                self::assertEqualsWithDelta($alone->left[$k], $x, 4 / 8388608);
            }
        }
    }

    public function testPanningKeepsPower(): void
    {
        self::assertSame([1.0, 1.0], Panning::gains(0.0));
        foreach ([-1.0, -0.3, 0.5, 1.0] as $pan) {
            [$left, $right] = Panning::gains($pan);
            self::assertEqualsWithDelta(2.0, $left ** 2 + $right ** 2, 1e-12);
            self::assertSame($pan <=> 0.0, $right <=> $left);
        }
    }

    public function testSumsAreTheSameInAnyOrder(): void
    {
        $parts = array_map(static fn (int $seed): StereoBlock => Gain::onGrid(Sounds::hit($seed, 300)), range(1, 13));
        $gains = array_map(static fn (int $i): array => [0.1 * $i, 1.3 - 0.1 * $i], range(1, 13));
        $forward = Gain::sum($parts, 300, $gains);
        $backward = Gain::sum(array_reverse($parts), 300, array_reverse($gains));
        self::assertTrue($forward->left === $backward->left && $forward->right === $backward->right);
        self::assertSame(0.0, Gain::sum([], 10)->peak());
    }
}
