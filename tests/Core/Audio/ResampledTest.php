<?php

namespace Pestle\Tests\Core\Audio;

use Pestle\Core\Audio\AudioSource;
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
        $sine = Sounds::sine(440, 88200);
        $source = new MemorySource(new StereoBlock($sine, array_reverse($sine)), 44100);
        foreach ([700, -512, 37, 1, -1, 0.9, 1200] as $cents) {
            $tuned = Resampled::toRate($source, 44100, 2 ** ($cents / 1200));
            // Over a second, a hundredth of a cent would be 17 degrees late, which is -11 dB.
            self::assertLessThan(-100.0, Sounds::unwanted($tuned->read(200, 40000)->left, 440 * 2 ** ($cents / 1200), 44100), "$cents cents");
            $whole = $tuned->read(-40, 5000);
            $pieces = StereoBlock::silence(0);
            for ($at = -40; $at < 4960; $at += 1250) {
                $pieces = $pieces->append($tuned->read($at, 1250));
            }
            self::assertEquals($whole, $pieces);
        }
    }

    /** A click two hours into a recording is heard where its place says, to half a frame. */
    public function testPlacesStayRightAtAnyLength(): void
    {
        $at = 2 * 3600 * 44100 + 12345;
        $source = new class($at) implements AudioSource {
            public function __construct(private readonly int $at)
            {
            }

            public function sampleRate(): int
            {
                return 44100;
            }

            public function frames(): int
            {
                return $this->at + 10000;
            }

            public function read(int $start, int $count): StereoBlock
            {
                $values = array_map(fn (int $i): float => exp(-(($start + $i - $this->at) / 20.0) ** 2), range(0, $count - 1));

                return new StereoBlock($values, $values);
            }
        };
        foreach ([100, -100, 1, -1, 1150, -1201] as $cents) {
            $speed = 2 ** ($cents / 1200);
            $tuned = Resampled::toRate($source, 44100, $speed);
            $from = (int) round($at / $speed) - 200;
            $values = $tuned->read($from, 400)->left;
            $weights = array_sum($values);
            $centre = array_sum(array_map(static fn (int $i, float $v): float => $i * $v, array_keys($values), $values)) / $weights;
            self::assertEqualsWithDelta($at / $speed, $from + $centre, 0.02, "$cents cents");
            self::assertEqualsWithDelta(($at + 10000) / $speed, $tuned->frames(), 1.0);
        }
    }
}
