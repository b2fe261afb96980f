<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\PcmDecoder;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Compressor;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\Equalizer;
use Pestle\Core\Mix\Limiter;
use Pestle\Core\Mix\RecordingSum;
use Pestle\Core\Render\Gain;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\TruePeak;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

final class DynamicsTest extends TestCase
{
    public function testTheCompressorFollowsItsCurve(): void
    {
        $compressor = new Compressor(new CompressorSettings(true, -20.0, 4.0, 1.0, 2000.0, 3.0), 44100);
        // A constant level: 12 dB above the threshold comes out 3 dB above it, then 3 dB of make-up.
        $level = Decibels::toGain(-8.0);
        $block = new StereoBlock(array_fill(0, 20000, $level), array_fill(0, 20000, -$level));
        [$out, $state, $curve] = $compressor->process($block, $compressor->rest());
        self::assertEqualsWithDelta(-14.0, Decibels::fromGain($out->left[19999]), 0.02);
        self::assertSame($out->left[19999], -$out->right[19999]);
        self::assertEqualsWithDelta(-9.0, Decibels::fromGain($curve->reduction()), 0.02);
        self::assertCount(3, $state);
        $quiet = new StereoBlock(array_fill(0, 1000, 0.05), array_fill(0, 1000, 0.05));
        [$out] = $compressor->process($quiet, $compressor->rest());
        self::assertEqualsWithDelta(0.05 * Decibels::toGain(3.0), $out->left[999], 1e-6);
    }

    public function testItsCurveIsWhatItApplied(): void
    {
        $compressor = new Compressor(new CompressorSettings(true, -30.0, 3.0, 0.5, 30.0), 44100);
        $block = Sounds::hit(2, 3001, 0.9);
        [$out, , $curve] = $compressor->process($block, $compressor->rest());
        foreach ($curve->expand(3001) as $i => $gain) {
            self::assertEqualsWithDelta($block->left[$i] * $gain, $out->left[$i], 1 / 8388608);
        }
        self::assertCount(3001, $curve->expand(3001));
    }

    public function testFiltersBesideTheCompressorAreTheEqualizer(): void
    {
        $bands = [new EqBand(EqShape::HighPass, 120, 0, 0.7, true), new EqBand(EqShape::Peak, 900, 5, 1.2, true)];
        $equalizer = Equalizer::of($bands, 44100);
        $compressor = new Compressor(new CompressorSettings(true, -24.0, 2.0), 44100);
        $block = Sounds::hit(6, 4000);
        [$first] = $equalizer->process($block, $equalizer->rest());
        [$apart] = $compressor->process($first, $compressor->rest());
        [$together] = $compressor->process($block, [...$equalizer->rest(), ...$compressor->rest()], $equalizer->sections);
        self::assertEquals($apart, $together);
        $off = Equalizer::of(EqBand::defaults(), 44100);
        self::assertFalse($off->isActive());
        self::assertEquals([$block, []], $off->process($block, []));
    }

    public function testARecordingOnTheShortWayIntoASumIsTheSameToTheBit(): void
    {
        $sections = Equalizer::of([new EqBand(EqShape::LowShelf, 200, 6, 0.8, true), new EqBand(EqShape::Peak, 3000, -7, 2, true)], 44100)->sections;
        $compressor = new Compressor(new CompressorSettings(true, -28.0, 5.0, 0.5, 40.0, 2.0), 44100);
        $pieces = 3;
        $chance = new Noise(4);
        foreach ([2, 1, 0] as $count) {
            $used = \array_slice($sections, 0, $count);
            $state = $short = [...array_fill(0, 4 * $count, 0.0), ...$compressor->rest()];
            for ($piece = 0; $piece < $pieces; ++$piece) {
                $frames = RecordingSum::FRAMES * (1 + $piece);
                $bytes = pack('v*', ...array_map(static fn (float $x): int => (int) ($x * 32767.9), $chance->block(2 * $frames)));
                $dry = Gain::onGrid(Gain::sides((new PcmDecoder(SampleFormat::Int16, 2))->decode($bytes), 0.7, 1.3));
                [$wet, $state, $curve] = $compressor->process($dry, $state, $used);
                $sum = new RecordingSum($frames);
                $sum->add($bytes, [0.7, 1.3, 0.31, 0.93], $used, $compressor, $short);
                [$short, $shortCurve] = $sum->add($bytes, [0.7, 1.3, 0.5, 0.25], $used, $compressor, $short);
                self::assertSame($state, $short);
                self::assertEquals($curve, $shortCurve);
                self::assertEquals(Gain::sum([$wet, $wet], $frames, [[0.31, 0.93], [0.5, 0.25]]), $sum->block());
                self::assertGreaterThan(0.1, $sum->block()->peak());
            }
        }
    }

    public function testNothingPassesTheCeilingNotEvenBetweenSamples(): void
    {
        $limiter = new Limiter(-1.0, 44100);
        $sounds = [];
        foreach ([1, 2, 3] as $seed) {
            $noise = (new Noise($seed))->block(30000);
            $sounds[] = array_map(static fn (float $x, int $i): float => $x * (0.2 + 3.0 * (($i >> 9) & 1)), $noise, array_keys($noise));
        }
        $sounds[] = Sounds::sine(50, 30000, 44100, 2.5);
        $sounds[] = array_map(static fn (int $i): float => 2 * sin(\M_PI / 2 * $i + \M_PI / 4), range(0, 29999));
        foreach ($sounds as $sound) {
            $limited = $this->limit($limiter, $sound, 8192);
            $peak = Peak::of(TruePeak::peaks([...array_fill(0, TruePeak::BEFORE, 0.0), ...$limited, ...array_fill(0, TruePeak::AFTER, 0.0)]));
            self::assertLessThanOrEqual(-0.99, Decibels::fromGain($peak));
            self::assertGreaterThan(-3.0, Decibels::fromGain($peak), 'it limits no more than it must');
        }
    }

    public function testQuietSoundIsLeftAlone(): void
    {
        $limiter = new Limiter(-1.0, 44100);
        $sound = Sounds::sine(300, 20000, 44100, 0.3);
        self::assertSame($sound, $this->limit($limiter, $sound, 4096));
    }

    public function testShortAndLongPiecesGiveTheSameGain(): void
    {
        $limiter = new Limiter(-1.0, 44100);
        $sound = Sounds::sine(90, 16384, 44100, 1.6);
        $long = $this->limit($limiter, $sound, 16384);
        foreach ($this->limit($limiter, $sound, 512) as $i => $x) {
            self::assertEqualsWithDelta($long[$i], $x, 1e-6);
        }
    }

    /**
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private function limit(Limiter $limiter, array $sound, int $piece): array
    {
        $state = $limiter->rest();
        $out = [];
        for ($at = 0, $n = \count($sound); $at < $n; $at += $piece) {
            $part = \array_slice($sound, $at, $piece);
            $ahead = \array_slice([...\array_slice($sound, $at + $piece, Limiter::NEEDS), ...array_fill(0, Limiter::NEEDS, 0.0)], 0, Limiter::NEEDS);
            [$gain, $state] = $limiter->gain(new StereoBlock($part, $part), new StereoBlock($ahead, $ahead), $state);
            foreach ($part as $i => $x) {
                $out[] = $x * ($gain[$i] ?? 1.0);
            }
        }

        return $out;
    }
}
