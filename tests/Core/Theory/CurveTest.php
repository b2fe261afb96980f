<?php

namespace Pestle\Tests\Core\Theory;

use Pestle\Core\Theory\Curve;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CurveTest extends TestCase
{
    public function testItGoesFromPointToPointAndStaysAtItsEnds(): void
    {
        $curve = new Curve([[100.0, -20.0, 0.0], [300.0, 0.0, 1.0], [400.0, 6.0, -1.0], [500.0, -6.0, 0.0]]);
        foreach ([0 => -20.0, 100 => -20.0, 150 => -15.0, 200 => -10.0, 300 => 0.0, 399 => 0.0, 400 => -6.0, 401 => -6.0, 500 => -6.0, 9999 => -6.0] as $tick => $value) {
            self::assertEqualsWithDelta($value, $curve->at($tick), 1e-9, 'tick '.$tick);
        }
        // Many values at once are the single ones.
        foreach ($curve->values(50.0, 7.3, 80) as $k => $value) {
            self::assertSame($curve->at(50.0 + 7.3 * $k), $value);
        }
    }

    /** Backwards it is at each tick what it was at the one that lies as far from its end; twice backwards it is itself. */
    public function testBackwardsItIsWhatItWasSeenFromItsEnd(): void
    {
        $curve = new Curve([[0.0, 1.0, 0.0], [100.0, 5.0, 1.0], [400.0, 2.0, 0.4], [700.0, 8.0, -0.7], [1000.0, 3.0, 0.0]]);
        $back = $curve->mirrored(1200.0);
        for ($tick = 3.0; $tick < 1200.0; $tick += 7.0) {
            // Where it jumps a tick is gone.
            $near = abs($tick - 800.0) < 2.0 || abs($tick - 1100.0) < 2.0;
            $near || self::assertEqualsWithDelta($curve->at(1200.0 - $tick), $back->at($tick), 0.02, (string) $tick);
            $near || abs($tick - 400.0) < 2.0 || self::assertEqualsWithDelta($curve->at($tick), $back->mirrored(1200.0)->at($tick), 0.05, (string) $tick);
        }
        self::assertEquals([[0.0, 3.0, 1.0], [100.0, 3.0, 1.0]], (new Curve([[0.0, 3.0, 0.0]]))->mirrored(100.0)->points);
    }

    public function testABendIsLateOrEarlyAndMeetsItsPoints(): void
    {
        $at = static fn (float $bend): array => (new Curve([[0.0, 0.0, $bend], [100.0, 1.0, 0.0]]))->values(0.0, 25.0, 5);
        self::assertSame([0.0, 0.25, 0.5, 0.75, 1.0], $at(0.0));
        self::assertEqualsWithDelta([0.0, 0.0625, 0.25, 0.5625, 1.0], $at(0.25), 1e-9);
        foreach ([-0.9, -0.4, 0.3, 0.8] as $bend) {
            $values = $at($bend);
            $sorted = $values;
            sort($sorted);
            self::assertSame($sorted, $values, 'it never turns back');
            self::assertSame([0.0, 1.0], [$values[0], $values[4]]);
            self::assertSame($bend > 0.0, $values[2] < 0.5);
        }
    }

    /** @return iterable<string, array{list<array{float, float, float}>, string}> */
    public static function wrong(): iterable
    {
        yield 'none' => [[], 'A curve has 1 to 1,000 points.'];
        yield 'too many' => [array_map(static fn (int $i): array => [(float) $i, 0.0, 0.0], range(0, 1000)), 'A curve has 1 to 1,000 points.'];
        yield 'back in time' => [[[5.0, 0.0, 0.0], [4.0, 0.0, 0.0]], 'follow one another in time'];
        yield 'bent too far' => [[[5.0, 0.0, 1.5]], 'a bend of -1 to 1'];
    }

    /** @param non-empty-list<array{float, float, float}> $points */
    #[DataProvider('wrong')]
    public function testWhatIsNoCurveIsRefused(array $points, string $message): void
    {
        $this->expectExceptionMessage($message);
        new Curve($points);
    }
}
