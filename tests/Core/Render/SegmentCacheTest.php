<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Memory;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Render\Segment;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Noise;
use PHPUnit\Framework\TestCase;

/** What memory holds of rendered segments: the newest ready, the others packed, to the bit. */
final class SegmentCacheTest extends TestCase
{
    private const MEMORY = 12_000_000;

    public function testManyMoreAreHeldThanAreReady(): void
    {
        $cache = new SegmentCache(self::MEMORY);
        $before = memory_get_usage();
        $made = [];
        for ($i = 0; $i < 400; ++$i) {
            $segment = self::segment($i);
            $made[$i] = md5($segment->packed());
            $cache->keep('k'.$i, self::segment($i), false);
        }
        self::assertLessThan(1.3 * self::MEMORY, memory_get_usage() - $before, 'bounded by what it was given');
        $held = array_values(array_filter(range(0, 399), static fn (int $i): bool => null !== $cache->find('k'.$i)));
        // Ready ones take 131 KB, packed ones a quarter: twelve megabytes are over 250 segments where 90 would be.
        self::assertGreaterThan(250, \count($held));
        self::assertSame(range(400 - \count($held), 399), $held, 'the newest');
        foreach ($held as $i) {
            $found = $cache->find('k'.$i) ?? self::fail('It was there.');
            self::assertSame($made[$i], md5($found->packed()));
            self::assertSame(self::segment($i)->block()->left, $found->block()->left);
            self::assertSame([(float) $i], $found->states[0]->numbers);
        }
        self::assertLessThan(1.5 * self::MEMORY, memory_get_usage() - $before, 'also when all of them were looked at');
    }

    public function testWhatInsertsRememberIsHeldPackedToo(): void
    {
        $cache = new SegmentCache(self::MEMORY);
        $before = memory_get_usage();
        $lines = static fn (int $i): array => array_map(static fn (int $l): array => array_map(static fn (float $x): float => (int) ($x / Memory::STEP) * Memory::STEP, (new Noise(100 * $i + $l + 1))->block(2000)), range(0, 7));
        for ($i = 0; $i < 150; ++$i) {
            $cache->keep('k'.$i, Rendered::of(self::segment($i)->block(), Segment::FRAMES, [new InsertState([1.0], Memory::whole($lines($i)))]), false);
        }
        self::assertLessThan(1.5 * self::MEMORY, memory_get_usage() - $before);
        $held = array_values(array_filter(range(0, 149), static fn (int $i): bool => null !== $cache->find('k'.$i)));
        // 33 KB of sound and 64 KB that are remembered.
        self::assertGreaterThan(80, \count($held));
        self::assertSame(149, end($held));
        self::assertSame($lines($held[0]), $cache->find('k'.$held[0])?->states[0]->memory?->lines());
    }

    public function testWhatIsWantedStays(): void
    {
        $cache = new SegmentCache(self::MEMORY);
        for ($i = 0; $i < 700; ++$i) {
            $cache->keep('k'.$i, self::segment($i % 7), false);
            self::assertNotNull($cache->find('k'.max(0, $i - $i % 100)), 'wanted again and again');
        }
        self::assertNull($cache->find('k0'));
    }

    public function testSilenceAndNothingAreKeptAsTheyAre(): void
    {
        $cache = new SegmentCache(1_000_000);
        for ($i = 0; $i < 30; ++$i) {
            $cache->keep('s'.$i, Rendered::of(null, Segment::FRAMES, [new InsertState([1.0 * $i])]), false);
        }
        $found = $cache->find('s20');
        self::assertTrue($found?->isSilent());
        self::assertSame([20.0], $found->states[0]->numbers);
        $none = SegmentCache::none();
        $none->keep('a', self::segment(1), false);
        self::assertNull($none->find('a'));
        self::assertTrue($none->keepsNothing());
    }

    private static function segment(int $seed): Rendered
    {
        $noise = new Noise(1 + $seed);

        return Rendered::of(new StereoBlock(self::onGrid($noise), self::onGrid($noise)), Segment::FRAMES, [new InsertState([1.0 * $seed])]);
    }

    /** @return list<float> */
    private static function onGrid(Noise $noise): array
    {
        return array_map(static fn (float $x): float => round($x * 8388608.0) / 8388608.0, $noise->block(Segment::FRAMES));
    }
}
