<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Render\Patched;
use Pestle\Core\Render\Round;
use PHPUnit\Framework\TestCase;

/** Sounds that go over into others: a stretch that goes round, and pieces among what stands for the rest. */
final class JoinedSoundsTest extends TestCase
{
    public function testAStretchGoesRoundAndIsTheSameInPiecesOfAnySize(): void
    {
        $ramp = static fn (int $from, int $frames): StereoBlock => self::block(array_map(static fn (int $i): float => $i / 10000, range($from, $from + $frames - 1)));
        foreach ([[1000, 4000], [10, 14], [0, 500], [3, 5]] as [$from, $to]) {
            $round = new Round($from, $to);
            $whole = $round->read(0, 9000, $ramp)->left;
            $pieces = [];
            for ($at = 0; $at < 9000; $at += 333) {
                array_push($pieces, ...$round->read($at, min(333, 9000 - $at), $ramp)->left);
            }
            self::assertSame($whole, $pieces);
            self::assertSame(\array_slice($whole, $to, 1000), \array_slice($whole, $to + ($to - $from), 1000), 'every time round it is the same');
            self::assertSame((float) ($from / 10000), $whole[$to], 'it begins again where it should');
            self::assertSame(array_fill(0, 9000, true), array_map(static fn (float $x): bool => $x >= 0.0 && $x < $to / 10000, $whole));
        }
        $whole = (new Round(1000, 4000))->read(0, 9000, $ramp)->left;
        $steps = array_map(static fn (int $i): float => abs($whole[$i + 1] - $whole[$i]), range(0, 8998));
        self::assertLessThan(0.001, max($steps), 'it goes over into its start without a step');
    }

    public function testPiecesThatAreThereSoundAndTheRestStandsForThemselves(): void
    {
        $there = new MemorySource(self::block(array_fill(0, 9500, 0.5)), 44100);
        $other = new MemorySource(self::block(array_fill(0, 9500, -0.25)), 44100);
        $patched = new Patched($other, $there, '0110', 3000);
        self::assertSame([44100, 9500], [$patched->sampleRate(), $patched->frames()]);
        $whole = $patched->read(0, 9500)->left;
        self::assertSame([-0.25, -0.25, 0.5, 0.5, 0.5, -0.25], array_map(static fn (int $i): float => $whole[$i], [0, 2999, 3600, 6000, 8400, 9100]));
        // It goes over within the piece that is there, without a step.
        self::assertSame(-0.25, $whole[3000]);
        $steps = array_map(static fn (int $i): float => abs($whole[$i + 1] - $whole[$i]), range(0, 9498));
        self::assertLessThan(0.002, max($steps));
        self::assertSame(\array_slice($whole, 2500, 4000), [...$patched->read(2500, 700)->left, ...$patched->read(3200, 3300)->left]);
        self::assertSame($whole[9499], (new Patched($other, $there, '1111', 3000))->read(9499, 1)->left[0] - 0.75, 'all there, nothing else is heard');
        self::assertSame(0.0, $patched->read(9500, 10)->peak());
    }

    /** @param list<float> $side */
    private static function block(array $side): StereoBlock
    {
        return new StereoBlock($side, $side);
    }
}
