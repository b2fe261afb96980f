<?php

namespace Pestle\Tests\Core\Audio;

use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ResampledTest extends TestCase
{
    /** @return iterable<string, array{int, int, float}> */
    public static function conversions(): iterable
    {
        foreach ([[44100, 48000, 10000.0], [48000, 44100, 10000.0], [96000, 44100, 10000.0], [22050, 44100, 5000.0]] as [$from, $to, $high]) {
            foreach ([1000.0, $high] as $hz) {
                yield \sprintf('%d Hz from %d to %d', $hz, $from, $to) => [$from, $to, $hz];
            }
        }
    }

    #[DataProvider('conversions')]
    public function testASineComesThroughAlone(int $from, int $to, float $hz): void
    {
        $sine = Sounds::sine($hz, $from, $from);
        $heard = Resampled::toRate(new MemorySource(new StereoBlock($sine, $sine), $from), $to);
        self::assertSame($to, $heard->sampleRate());
        self::assertSame($to, $heard->frames());
        $middle = $heard->read(2000, 12000)->left;
        self::assertLessThan(-100.0, Sounds::unwanted($middle, $hz, $to));
        self::assertEqualsWithDelta(0.5, Peak::of($middle), 0.001);
    }

    public function testWhatLiesAboveTheNewRateIsGone(): void
    {
        $sine = Sounds::sine(20000, 24000);
        $up = Resampled::toRate(new MemorySource(new StereoBlock($sine, $sine), 44100), 44100, 2.0);
        self::assertLessThan(-100.0, Decibels::fromGain($up->read(3000, 4000)->peak()));
    }

    public function testTuningIsExactAndAnyPieceIsTheSame(): void
    {
        $sine = Sounds::sine(440, 44100);
        $source = new MemorySource(new StereoBlock($sine, array_reverse($sine)), 44100);
        foreach ([700, -512, 37] as $cents) {
            $tuned = Resampled::toRate($source, 44100, 2 ** ($cents / 1200));
            // The fraction that stands for the speed may be 0.002 cents off; over a short stretch that is nothing.
            self::assertLessThan(-85.0, Sounds::unwanted($tuned->read(3000, 500)->left, 440 * 2 ** ($cents / 1200), 44100));
            $whole = $tuned->read(-40, 5000);
            $pieces = StereoBlock::silence(0);
            for ($at = -40; $at < 4960; $at += 1250) {
                $pieces = $pieces->append($tuned->read($at, 1250));
            }
            self::assertEquals($whole, $pieces);
        }
    }
}
