<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Noise;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

final class LoudnessMeterTest extends TestCase
{
    private const RATE = 48000;

    /** EBU Tech 3342, first case: 20 s at -20 dBFS, then 20 s at -30 dBFS have a range of 10 LU; Tech 3341: a tone at -23 dBFS on both sides is -23 LUFS. */
    public function testRangeAndLoudnessOfTones(): void
    {
        $meter = new LoudnessMeter(self::RATE);
        foreach ([-20.0, -30.0] as $db) {
            $this->play($meter, Sounds::sine(1000.0, 20 * self::RATE, self::RATE, 10 ** ($db / 20)));
        }
        self::assertEqualsWithDelta(10.0, $meter->rangeLu(), 0.1);
        self::assertEqualsWithDelta(-20.0, $meter->momentaryLufs(), 0.1);
        self::assertEqualsWithDelta(-20.0, $meter->shortTermLufs(), 0.1);
        self::assertEqualsWithDelta(10 * log10((10 ** -2.0 + 10 ** -3.0) / 2), $meter->integratedLufs(), 0.2);
        self::assertEqualsWithDelta(-20.0, $meter->truePeakDb(), 0.1);

        $meter = new LoudnessMeter(self::RATE);
        $this->play($meter, Sounds::sine(1000.0, 20 * self::RATE, self::RATE, 10 ** (-23 / 20)));
        self::assertEqualsWithDelta(-23.0, $meter->integratedLufs(), 0.1);
        self::assertEqualsWithDelta(0.0, $meter->rangeLu(), 0.1);
    }

    public function testBlocksOfAnySizeMeasureTheSame(): void
    {
        $noise = array_map(static fn (float $x): float => 0.3 * $x, (new Noise(5))->block(100_000));
        $once = new LoudnessMeter(44100);
        $once->add(new StereoBlock($noise, $noise));
        $pieces = new LoudnessMeter(44100);
        foreach (array_chunk($noise, 777) as $chunk) {
            $pieces->add(new StereoBlock($chunk, $chunk));
        }
        self::assertEqualsWithDelta($once->integratedLufs(), $pieces->integratedLufs(), 1e-9);
        self::assertSame($once->truePeakDb(), $pieces->truePeakDb());
    }

    public function testCorrelationTellsHowSidesGoTogether(): void
    {
        [$a, $b] = [(new Noise(1))->block(44100), (new Noise(2))->block(44100)];
        $turned = array_map(static fn (float $x): float => -$x, $a);
        foreach ([[$a, $a, 1.0], [$a, $turned, -1.0], [$a, $b, 0.0]] as [$left, $right, $expected]) {
            $meter = new LoudnessMeter(44100);
            $meter->add(new StereoBlock($left, $right));
            self::assertEqualsWithDelta($expected, $meter->correlation(), 0.03);
        }
    }

    /** @param list<float> $sound */
    private function play(LoudnessMeter $meter, array $sound): void
    {
        foreach (array_chunk($sound, 4096) as $chunk) {
            $meter->add(new StereoBlock($chunk, $chunk));
        }
    }
}
