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
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\Limiter;
use Pestle\Core\Mix\MovingInserts;
use Pestle\Core\Mix\RecordingSum;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\TruePeak;
use Pestle\Core\Signal\Window;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DynamicsTest extends TestCase
{
    public function testTheCompressorFollowsItsCurve(): void
    {
        $compressor = new Compressor(new CompressorSettings('i1', true, -20.0, 4.0, 1.0, 2000.0, 3.0), 44100);
        // A constant level: 12 dB above the threshold comes out 3 dB above it, then 3 dB of make-up.
        $level = Decibels::toGain(-8.0);
        $block = new StereoBlock(array_fill(0, 20000, $level), array_fill(0, 20000, -$level));
        [$out, $state, $curve] = $compressor->process($block, null, $compressor->rest(), 0);
        self::assertEqualsWithDelta(-14.0, Decibels::fromGain($out->left[19999]), 0.02);
        self::assertSame($out->left[19999], -$out->right[19999]);
        self::assertEqualsWithDelta(-9.0, Decibels::fromGain(min([1.0, ...$curve?->reductions(20000, 2048) ?? []])), 0.02);
        self::assertCount(\count($compressor->rest()->numbers), $state->numbers);
        $quiet = new StereoBlock(array_fill(0, 1000, 0.05), array_fill(0, 1000, 0.05));
        [$out] = $compressor->process($quiet, null, $compressor->rest(), 0);
        self::assertEqualsWithDelta(0.05 * Decibels::toGain(3.0), $out->left[999], 1e-6);
    }

    /** Giannoulis et al. 2012, equation 4: a quarter of its width squared over twice its width, times what the ratio takes. */
    public function testAKneeSetsInByAndBy(): void
    {
        $compressor = new Compressor(new CompressorSettings('i1', true, -20.0, 4.0, 1.0, 2000.0, kneeDb: 12.0), 44100);
        foreach ([[-27.0, 0.0], [-23.0, 0.75 * 3.0 ** 2 / 24.0], [-20.0, 0.75 * 6.0 ** 2 / 24.0], [-14.0, 0.75 * 6.0], [-8.0, 0.75 * 12.0]] as [$db, $reduction]) {
            $block = new StereoBlock(array_fill(0, 20000, Decibels::toGain($db)), array_fill(0, 20000, 0.0));
            [$out] = $compressor->process($block, null, $compressor->rest(), 0);
            self::assertEqualsWithDelta($db - $reduction, Decibels::fromGain($out->left[19999]), 0.02);
        }
    }

    /** @return iterable<string, array{float, float}> */
    public static function times(): iterable
    {
        foreach ([[5.0, 5.0], [10.0, 20.0], [30.0, 120.0], [100.0, 400.0]] as [$attack, $release]) {
            yield "$attack and $release ms" => [$attack, $release];
        }
    }

    /** Attack and release are the times to 63 % of the reduction in decibels, however far above the threshold the sound is. */
    #[DataProvider('times')]
    public function testAttackAndReleaseAreWhatTheySay(float $attack, float $release): void
    {
        foreach ([6.0, 12.0, 20.0] as $over) {
            foreach ([1000.0, 3000.0] as $hz) {
                $compressor = new Compressor(new CompressorSettings('i1', true, -30.0, 4.0, $attack, $release), 44100);
                $full = 0.75 * $over;
                $loud = (int) (44100 * (0.008 * $attack));
                $sine = Sounds::sine($hz, $loud, 44100, Decibels::toGain(-30.0 + $over));
                $sound = [...array_fill(0, 777, 0.0), ...$sine, ...array_fill(0, (int) (44100 * 0.004 * $release), 0.0)];
                [, , $curve] = $compressor->process(new StereoBlock($sound, $sound), null, $compressor->rest(), 0);
                $depths = array_map(static fn (float $g): float => -Decibels::fromGain($g), $curve?->expand(\count($sound)) ?? []);
                $reached = $let = 0;
                while ($depths[777 + $reached] < 0.632 * $full) {
                    ++$reached;
                }
                while ($depths[777 + $loud + $let] > 0.368 * $full) {
                    ++$let;
                }
                self::assertEqualsWithDelta(1.0, $reached / 44.1 / $attack, 0.1, "attack, $over dB over, $hz Hz");
                self::assertEqualsWithDelta(1.0, $let / 44.1 / $release, 0.1, "release, $over dB over, $hz Hz");
            }
        }
    }

    /** A low tone is held down as far as a high one, however slowly it is taken and quickly it is let go. */
    public function testLowTonesAreReducedAsFarAsHighOnes(): void
    {
        foreach ([50.0, 70.0, 100.0, 2000.0] as $hz) {
            $compressor = new Compressor(new CompressorSettings('i1', true, -30.0, 4.0, 100.0, 20.0), 44100);
            $sound = Sounds::sine($hz, 60000, 44100, Decibels::toGain(-18.0));
            [$out] = $compressor->process(new StereoBlock($sound, $sound), null, $compressor->rest(), 0);
            self::assertEqualsWithDelta(-27.0, Decibels::fromGain(Peak::of(\array_slice($out->left, 50000))), 0.1, "$hz Hz");
        }
    }

    public function testItIsAtRestAgainAfterTheSound(): void
    {
        $compressor = new Compressor(new CompressorSettings('i1', true, -30.0, 4.0, 1.0, 20.0, 3.0), 44100);
        [, $state] = $compressor->process(Sounds::hit(2, 5003, 0.9), null, $compressor->rest(), 0);
        self::assertNotEquals($compressor->rest(), $state);
        [, $state] = $compressor->process(StereoBlock::silence(44100), null, $state, 0);
        self::assertEquals($compressor->rest(), $state);
    }

    public function testItsCurveIsWhatItApplied(): void
    {
        $compressor = new Compressor(new CompressorSettings('i1', true, -30.0, 3.0, 0.5, 30.0), 44100);
        $block = Sounds::hit(2, 3001, 0.9);
        [$out, , $curve] = $compressor->process($block, null, $compressor->rest(), 0);
        foreach ($curve?->expand(3001) ?? [] as $i => $gain) {
            self::assertEqualsWithDelta($block->left[$i] * $gain, $out->left[$i], 1 / 8388608);
        }
        self::assertCount(3001, $curve?->expand(3001) ?? []);
    }

    public function testFiltersBesideTheCompressorAreTheEqualizer(): void
    {
        $bands = [new EqBand(EqShape::HighPass, 120, 0, 0.7, true), new EqBand(EqShape::Peak, 900, 5, 1.2, true)];
        $equalizer = Equalizer::of($bands, 44100);
        $compressor = new Compressor(new CompressorSettings('i1', true, -24.0, 2.0), 44100);
        $block = Sounds::hit(6, 4000);
        [$first, $filters] = $equalizer->process($block, null, $equalizer->rest(), 0);
        [$apart, $follower, $curve] = $compressor->process($first, null, $compressor->rest(), 0);
        [$together, $filtersToo, $followerToo, $curveToo] = $equalizer->into($compressor, $block, $equalizer->rest(), $compressor->rest());
        self::assertEquals($filters, $filtersToo);
        // Between the two nothing is rounded where they run together.
        $grid = 1 / 8388608;
        self::assertEqualsWithDelta($follower->numbers, $followerToo->numbers, 4 * $grid);
        self::assertEqualsWithDelta($curve?->expand(4000), $curveToo->expand(4000), 4 * $grid);
        self::assertLessThanOrEqual(2 * $grid, Gain::difference($apart, $together)->peak());
        $off = Equalizer::of(EqBand::defaults(), 44100);
        [$same, $rest] = $off->process($block, null, $off->rest(), 0);
        self::assertEquals([Gain::onGrid($block)->left, $off->rest()], [$same->left, $rest]);
    }

    /** What is steered by another sound gets the gain that other one would have got. */
    public function testAnotherSoundSteersTheGain(): void
    {
        $compressor = new Compressor(new CompressorSettings('i1', true, -30.0, 6.0, 1.0, 60.0), 44100);
        $tone = Sounds::sine(200, 8000, 44100, 0.01);
        $sound = new StereoBlock($tone, $tone);
        $kick = Sounds::hit(3, 8000, 0.9);
        [$ducked, $state, $curve] = $compressor->process($sound, $kick, $compressor->rest(), 0);
        [, $own, $kicks] = $compressor->process($kick, null, $compressor->rest(), 0);
        self::assertEquals([$own, $kicks], [$state, $curve]);
        self::assertSame(Gain::curve($sound, $curve?->expand(8000))->left, $ducked->left);
        self::assertLessThan(0.4, Peak::of(\array_slice($ducked->left, 200, 600)) / 0.01);
        [$free] = $compressor->process($sound, StereoBlock::silence(8000), $compressor->rest(), 0);
        self::assertSame(Gain::onGrid($sound)->left, $free->left);
    }

    /** Settings that move to where they are already are settings that stay. */
    public function testInsertsThatStandStillAreFixedOnesToTheBit(): void
    {
        $settings = [new EqualizerSettings('i1', [new EqBand(EqShape::Peak, 900, 5, 1.2, true), new EqBand(EqShape::LowShelf, 100)]), new CompressorSettings('i2', true, -24.0, 2.0), new CompressorSettings('i3', true, -20.0, key: 'k')];
        $timing = new Timing(44100, Tempo::bpm(90));
        $fixed = new FixedInserts($settings, $timing);
        $moving = new MovingInserts(static fn (): FixedInserts => $fixed, 63);
        self::assertEquals($fixed->rest(), $moving->rest());
        [$state, $states] = [$fixed->rest(), $moving->rest()];
        foreach ([1, 2, 3] as $seed) {
            [$sound, $key] = [Sounds::hit($seed, 1000), ['k' => Sounds::hit(9, 1000)]];
            $once = $fixed->process($sound, 1000, $key, $state, 0);
            $steps = $moving->process($sound, 1000, $key, $states, 0);
            [$state, $states] = [$once->states, $steps->states];
            self::assertEqualsWithDelta(array_map(static fn (InsertState $s): array => $s->numbers, $state), array_map(static fn (InsertState $s): array => $s->numbers, $states), 1e-7);
            self::assertLessThanOrEqual(4 / 8388608, Gain::difference($once->sound ?? $sound, $steps->sound ?? $sound)->peak());
            self::assertEqualsWithDelta($once->curves[2]->expand(1000), $steps->curves[2]->expand(1000), 1e-6);
        }
        // What is off keeps its place at rest.
        $off = new FixedInserts([$settings[0]->with(['on' => false]), $settings[1]->with(['on' => false])], $timing);
        self::assertEquals([$sound, $off->rest(), []], array_values(get_object_vars($off->process($sound, 1000, [], $off->rest(), 0))));
    }

    public function testARecordingOnTheShortWayIntoASumIsTheSameToTheBit(): void
    {
        $sections = array_values(Equalizer::of([new EqBand(EqShape::LowShelf, 200, 6, 0.8, true), new EqBand(EqShape::Peak, 3000, -7, 2, true)], 44100)->sections);
        $compressor = new Compressor(new CompressorSettings('i1', true, -28.0, 5.0, 0.5, 40.0, 2.0), 44100);
        $pieces = 3;
        $chance = new Noise(4);
        foreach ([2, 1, 0] as $count) {
            $used = \array_slice($sections, 0, $count);
            $state = $short = [...array_fill(0, 4 * $count, 0.0), ...$compressor->rest()->numbers];
            for ($piece = 0; $piece < $pieces; ++$piece) {
                $frames = RecordingSum::FRAMES * (1 + $piece);
                $bytes = pack('v*', ...array_map(static fn (float $x): int => (int) ($x * 32767.9), $chance->block(2 * $frames)));
                $dry = Gain::onGrid(Gain::sides((new PcmDecoder(SampleFormat::Int16, 2))->decode($bytes), 0.7, 1.3));
                [$wet, $state, $curve] = $compressor->through($used, $dry, $state);
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

    /** @return iterable<string, array{list<float>, float}> sounds made to be bad, and how many dB quieter than the ceiling the samples themselves may become */
    public static function sounds(): iterable
    {
        $made = static fn (\Closure $value): array => array_map(static fn (int $i): float => \is_float($x = $value($i)) ? $x : 0.0, range(0, 16383));
        foreach ([1, 2] as $seed) {
            $noise = (new Noise($seed))->block(16384);
            yield "gated noise $seed" => [array_map(static fn (float $x, int $i): float => $x * (0.2 + 3.0 * (($i >> 9) & 1)), $noise, array_keys($noise)), 3.5];
        }
        yield 'bright noise' => [array_map(static fn (float $a, float $b): float => 2.5 * ($a - $b), $noise, [0.0, ...\array_slice($noise, 0, -1)]), 3.0];
        yield 'signs' => [array_map(static fn (float $x): float => $x > 0.0 ? 1.5 : -1.5, $noise), 7.0];
        yield 'a low tone' => [Sounds::sine(50, 16384, 44100, 2.5), 0.3];
        foreach ([11025.0, 18000.0, 21000.0] as $hz) {
            yield "$hz Hz" => [$made(static fn (int $i): float => 2.0 * sin(2 * \M_PI * $hz / 44100 * $i + \M_PI / 4)), 3.4];
        }
        foreach ([8, 16, 40, 100] as $run) {
            yield "half the rate, turned every $run" => [$made(static fn (int $i): float => (0 === $i % 2 ? 1.4 : -1.4) * (0 === intdiv($i, $run) % 2 ? 1.0 : -1.0)), 12.2];
        }
        yield 'squares' => [$made(static fn (int $i): float => sin(2 * \M_PI * 5001 / 44100 * $i) >= 0.0 ? 1.5 : -1.5), 4.0];
    }

    public function testNothingPassesTheCeilingNotEvenBetweenSamples(): void
    {
        foreach (self::sounds() as $name => [$sound, $quieter]) {
            $limited = $this->limit(new Limiter(-1.0, 44100), $sound, 4096);
            $peak = Peak::of(TruePeak::peaks([...array_fill(0, TruePeak::BEFORE, 0.0), ...$limited, ...array_fill(0, TruePeak::AFTER, 0.0)]));
            self::assertLessThanOrEqual(-0.9, Decibels::fromGain($peak), $name);
            self::assertGreaterThan(-1.3 - $quieter, Decibels::fromGain(Peak::of($limited)), "$name: no more than it must");
            self::assertLessThanOrEqual(-0.97, Decibels::fromGain(self::ideal($limited)), $name);
            $before = $this->limit(new Limiter(-1.0, 44100, rules: SoundRules::First), $sound, 4096);
            self::assertLessThanOrEqual(-0.5, Decibels::fromGain(self::ideal($before)), $name.' by the first rules');
        }
    }

    /**
     * The highest peak of a sound at eight times its rate, its spectrum filled up with nothing.
     *
     * @param list<float> $sound of a power of two, faded at its ends
     */
    private static function ideal(array $sound): float
    {
        $frames = \count($sound);
        foreach (range(0, 399) as $i) {
            $sound[$i] *= Window::rise($i / 400);
            $sound[$frames - 1 - $i] *= Window::rise($i / 400);
        }
        [$re, $im] = (new Fft($frames))->forward($sound);
        $fine = new Fft(8 * $frames);
        $bins = 4 * $frames + 1;

        return 8.0 * Peak::of($fine->inverse(array_pad($re, $bins, 0.0), array_pad($im, $bins, 0.0)));
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
