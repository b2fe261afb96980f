<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Mix\ChorusSettings;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\Detector;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqSlope;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\GateSettings;
use Pestle\Core\Mix\HarmonicsSettings;
use Pestle\Core\Mix\HarmonicsStyle;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\OldConverterSettings;
use Pestle\Core\Mix\PhaserSettings;
use Pestle\Core\Mix\ReadyChain;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\SaturationCurve;
use Pestle\Core\Mix\SaturationSettings;
use Pestle\Core\Mix\StereoSettings;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Mix\TransientsSettings;
use Pestle\Core\Mix\TremoloSettings;
use Pestle\Core\Mix\TremoloStyle;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What every insert promises, and each its own by known answers. */
final class InsertsTest extends TestCase
{
    private const RATE = 44100;

    /** @return iterable<string, array{InsertSettings}> */
    public static function inserts(): iterable
    {
        foreach (InsertKind::cases() as $kind) {
            yield $kind->value => [$kind->fresh('i1')];
        }
        yield 'flanger with much' => [(new ChorusSettings('i1'))->with(['feedback' => 80.0, 'depth' => 100.0, 'mix' => 60.0])];
        yield 'filter that follows' => [new FilterSettings('i1', true, SweptShape::High, 300.0, 0.6, 2.0, NoteLength::Triplet, 1.0, 3, 2.0, 70.0)];
        yield 'ring' => [new TremoloSettings('i1', true, TremoloStyle::Ring, NoteLength::Free, 4.0, 2, 613.0, 80.0)];
        yield 'echoes nearer than a block' => [new DelaySettings('i1', true, NoteLength::Free, 3, 3.0, 90.0, 20.0, 20000.0, false, 50.0, 12.0)];
        yield 'folded' => [new SaturationSettings('i1', true, SaturationCurve::Folded, 20.0, 4000.0, 70.0)];
        yield 'tape-like' => [new SaturationSettings('i1', true, SaturationCurve::Tape, 12.0)];
        yield 'overtones of lows' => [new HarmonicsSettings('i1', true, HarmonicsStyle::Deep, 150.0, 24.0, 0.0)];
        yield 'steep cuts' => [new EqualizerSettings('i1', [new EqBand(EqShape::HighPass, 90.0, 0.0, 0.71, true, EqSlope::FortyEight), new EqBand(EqShape::Peak, 900.0, 6.0, 2.0, true), new EqBand(EqShape::LowPass, 6000.0, 0.0, 0.9, true, EqSlope::ThirtySix)])];
        yield 'part of a gain' => [(new TransientsSettings('i1'))->with(['mix' => 40.0])];
        yield 'part of a tone' => [(new HarmonicsSettings('i1'))->with(['mix' => 35.0])];
        yield 'listens before it' => [(new CompressorSettings('i1', true))->with(['aheadMs' => 3.0, 'thresholdDb' => -30.0, 'mix' => 70.0])];
        yield 'listens to power' => [(new CompressorSettings('i1', true))->with(['detector' => Detector::Rms, 'auto' => true, 'aboveHz' => 100.0, 'belowHz' => 6000.0, 'thresholdDb' => -30.0, 'kneeDb' => 6.0])];
        yield 'ducks at once' => [(new DuckerSettings('i1'))->with(['attackMs' => 0.0, 'holdMs' => 0.0])];
        yield 'limits in part' => [(new LimiterSettings('i1'))->with(['gainDb' => 9.0, 'mix' => 80.0])];
        yield 'comb that moves' => [(new FilterSettings('i1'))->with(['shape' => SweptShape::Comb, 'cutoffHz' => 180.0, 'octaves' => 2.0, 'resonance' => 0.7])];
        yield 'mouth that moves' => [(new FilterSettings('i1'))->with(['shape' => SweptShape::Formant, 'octaves' => 4.0, 'vowel' => 2.0, 'resonance' => 0.6, 'follow' => 1.0])];
        yield 'hard' => [new SaturationSettings('i1', true, SaturationCurve::Hard, 14.0)];
    }

    /** Blocks of any size give the same sound; after enough silence it is at rest again, and silence stays silence. */
    #[DataProvider('inserts')]
    public function testItIsTheSameInBlocksOfAnySizeAndComesToRest(InsertSettings $settings): void
    {
        $insert = FixedInserts::one($settings, self::timing());
        $sound = self::sound(3 * 4096);
        $once = $insert->process($sound, null, $insert->rest(), 512);
        $state = $insert->rest();
        $left = $right = [];
        foreach ([0, 4096, 4112, 8192, 9600] as $k => $from) {
            $part = $sound->slice($from, [4096, 4112, 8192, 9600, 12288][$k] - $from);
            [$out, $state] = $insert->process($part, null, $state, 512 + $from);
            array_push($left, ...$out->left);
            array_push($right, ...$out->right);
        }
        // States are rounded where blocks meet, to 2^-32 and finer than what is heard.
        $tolerance = 40 / 8388608;
        self::assertEqualsWithDelta($once[0]->left, $left, $tolerance);
        self::assertEqualsWithDelta($once[0]->right, $right, $tolerance);
        foreach ([...$left, ...$right] as $x) {
            if (0.0 !== fmod($x * 8388608.0, 1.0) || abs($x) > 8.0) {
                self::fail('Not on the grid, or far too loud: '.$x);
            }
        }
        for ($k = 0; 0 === $k || ($k < $settings->seconds(self::timing()->tempo) * self::RATE / 16384 + 2 && !$state->equals($insert->rest())); ++$k) {
            [$out, $state] = $insert->process(StereoBlock::silence(16384), null, $state, 12800 + $k * 16384);
        }
        self::assertTrue($state->equals($insert->rest()), 'It does not come to rest in the time it says.');
        [$silence] = $insert->process(StereoBlock::silence(4096), null, $insert->rest(), 7);
        self::assertEquals(0.0, $silence->peak());
    }

    /** Everything that can be set is stored and read back, at both ends of its range, and stays within bounds of loudness. */
    #[DataProvider('inserts')]
    public function testItBearsTheEndsOfItsRanges(InsertSettings $settings): void
    {
        $sound = self::sound(4096);
        foreach ($settings::parameters() as $field => $parameter) {
            $ends = [] !== $parameter->options() ? array_map($parameter->read(...), $parameter->options()) : (\is_bool($parameter->default) ? [true, false] : [$parameter->read($parameter->least), $parameter->read($parameter->most)]);
            foreach ($ends as $end) {
                $set = $settings->with([$field => $end]);
                self::assertSame($end, $set->settings()[$field]);
                $insert = FixedInserts::one($set, self::timing());
                [$out] = $insert->process($sound, null, $insert->rest(), 0);
                self::assertLessThan(70.0, $out->peak(), $field);
                self::assertCount(4096, $out->left);
            }
        }
    }

    #[DataProvider('curves')]
    public function testOvertonesDoNotFoldBack(SaturationCurve $curve): void
    {
        // Driven by 24 dB: an A of 3520 Hz; what lies beside its overtones has come from above half the rate.
        $insert = (new SaturationSettings('i1', true, $curve, 24.0))->insert(self::timing());
        $n = 16384;
        $tone = Sounds::sine(3520.0, $n + 8192, self::RATE, 0.5);
        [$out] = $insert->process(new StereoBlock($tone, $tone), null, $insert->rest(), 0);
        $window = [];
        foreach (\array_slice($out->left, 8192) as $i => $x) {
            $t = 2.0 * \M_PI * $i / $n;
            $window[] = $x * (0.35875 - 0.48829 * cos($t) + 0.14128 * cos(2.0 * $t) - 0.01168 * cos(3.0 * $t));
        }
        $magnitudes = (new Fft($n))->magnitudes($window);
        $beside = 0.0;
        foreach ($magnitudes as $k => $m) {
            $hz = $k * self::RATE / $n;
            $beside = $hz > 60.0 && $hz < 20000.0 && abs($hz - 3520.0 * round($hz / 3520.0)) > 30.0 ? max($beside, $m) : $beside;
        }
        self::assertLessThan(-80.0, 20.0 * log10($beside / max([0.0, ...$magnitudes])));
    }

    /** 3 dB less at its frequency, then what it says an octave, far enough from the edge. */
    #[DataProvider('slopes')]
    public function testACutFallsAsSteeplyAsItSays(EqSlope $slope): void
    {
        $perOctave = (float) $slope->value;
        foreach ([[EqShape::HighPass, 2000.0, 0.5], [EqShape::LowPass, 200.0, 2.0]] as [$shape, $hz, $towards]) {
            $sections = (new EqBand($shape, $hz, 0.0, 0.71, true, $slope))->sections(self::RATE);
            $at = static fn (float $f): float => array_sum(array_map(static fn (Biquad $b): float => $b->responseDb($f, self::RATE), $sections));
            self::assertEqualsWithDelta(-3.0, $at($hz), 0.1);
            self::assertEqualsWithDelta(0.0, $at($hz / $towards ** 5), 0.1);
            self::assertEqualsWithDelta(-$perOctave, $at($hz * $towards ** 3) - $at($hz * $towards ** 2), 0.05 * $perOctave);
        }
        $beat = RandomBeats::changed(Beat::empty('Cuts'), [['type' => 'add-insert', 'node' => 'drums', 'kind' => 'equalizer'], ['type' => 'set-bands', 'node' => 'drums', 'insert' => 'i2', 'count' => 6], ['type' => 'set', 'under' => 'mixer/drums/inserts/i2/bands/6', 'shape' => 'low-pass', 'slope' => $slope->value, 'on' => 1]]);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
    }

    /** @return iterable<string, array{EqSlope}> */
    public static function slopes(): iterable
    {
        foreach (EqSlope::cases() as $slope) {
            yield $slope->value => [$slope];
        }
    }

    /** A bass of 50 Hz gets overtones and keeps itself; a tone outside the band stays as it is. */
    public function testOvertonesAreAddedToTheBandAlone(): void
    {
        $n = 16384;
        $level = static function (HarmonicsSettings $settings, float $hz, float $of) use ($n): float {
            $insert = FixedInserts::one($settings, self::timing());
            $tone = Sounds::sine($hz, 3 * $n, self::RATE, 0.5);
            [$out] = $insert->process(new StereoBlock($tone, $tone), null, $insert->rest(), 0);
            // Over whole turns of all that is asked for.
            $frames = (int) (20 * self::RATE / 50);
            $re = $im = 0.0;
            foreach (\array_slice($out->left, $n, $frames) as $i => $x) {
                $re += $x * cos(2.0 * \M_PI * $of * $i / self::RATE);
                $im += $x * sin(2.0 * \M_PI * $of * $i / self::RATE);
            }

            return 20.0 * log10(2.0 * hypot($re, $im) / $frames / 0.5 + 1e-9);
        };
        $deep = new HarmonicsSettings('i1', true, HarmonicsStyle::Deep, 110.0, 20.0, -6.0);
        self::assertEqualsWithDelta(0.0, $level($deep, 50.0, 50.0), 1.5);
        self::assertGreaterThan(-42.0, $level($deep, 50.0, 100.0));
        self::assertGreaterThan(-30.0, $level($deep, 50.0, 150.0));
        self::assertLessThan(-70.0, $level($deep, 2000.0, 4000.0));
        $bright = new HarmonicsSettings('i1', true, HarmonicsStyle::Bright, 2500.0, 20.0, -6.0);
        self::assertGreaterThan(-35.0, $level($bright, 4000.0, 12_000.0));
        self::assertEqualsWithDelta(0.0, $level($bright, 200.0, 200.0), 0.05);
        self::assertLessThan(-70.0, $level($bright, 200.0, 600.0));
    }

    public function testNoteLengthsAreHalvedAndDoubledWhereThatCanBeCounted(): void
    {
        $scaled = static fn (NoteLength $length, int $sixteenths, float $factor): array => $length->scaled($sixteenths, $factor, 64);
        self::assertSame([NoteLength::Straight, 6], $scaled(NoteLength::Straight, 3, 2.0));
        self::assertSame([NoteLength::Dotted, 1], $scaled(NoteLength::Straight, 3, 0.5));
        self::assertSame([NoteLength::Straight, 1], $scaled(NoteLength::Triplet, 3, 0.5));
        self::assertSame([NoteLength::Dotted, 64], $scaled(NoteLength::Straight, 48, 2.0));
        self::assertSame([NoteLength::Straight, 3], $scaled(NoteLength::Straight, 5, 0.5));
    }

    /** @return iterable<string, array{SaturationCurve}> */
    public static function curves(): iterable
    {
        foreach (SaturationCurve::cases() as $curve) {
            yield $curve->value => [$curve];
        }
    }

    public function testEchoesFallWhereTheBeatPutsThem(): void
    {
        // At 120 BPM a dotted eighth lasts 0.375 s.
        $insert = (new DelaySettings('i1', true, NoteLength::Dotted, 2, 250.0, 50.0, 20.0, 20000.0, true, 50.0))->insert(new Timing(self::RATE, Tempo::bpm(120)));
        $click = StereoBlock::silence(70000);
        $click = new StereoBlock([0.8, ...\array_slice($click->left, 1)], [0.8, ...\array_slice($click->right, 1)]);
        [$out] = $insert->process($click, null, $insert->rest(), 0);
        [$first, $second] = [16538, 33076];
        self::assertSame([0, $first], [self::loudest($out->left, 0, 1000), self::loudest($out->left, 1000, 20000)]);
        self::assertSame($second, self::loudest($out->right, 1000, 69000), 'The second echo is on the other side.');
        self::assertEqualsWithDelta(-6.0, 20.0 * log10(self::energy($out->right, $second) / self::energy($out->left, $first)), 0.6);
    }

    /** Highs ring as much shorter as the drawing says. */
    public function testHighsRingAsLongAsIsDrawn(): void
    {
        foreach ([[6000.0, 40.0], [10000.0, 60.0], [300.0, 40.0]] as [$hz, $highs]) {
            $settings = new ReverbSettings('i1', true, 0.0, 1.0, 1.5, $highs, 0.0, 20.0, 100.0, 100.0, false);
            $insert = $settings->insert(self::timing());
            $burst = [...(new Noise(5))->block(3000), ...array_fill(0, 2 * self::RATE, 0.0)];
            [$out] = $insert->process(new StereoBlock($burst, $burst), null, $insert->rest(), 0);
            $band = Biquad::bandPass($hz, 4.0, self::RATE);
            $heard = $band->filter($band->filter($out->left));
            $energy = array_reverse($heard);
            $sum = 0.0;
            foreach ($energy as $i => $x) {
                $energy[$i] = $sum += $x * $x;
            }
            $energy = \array_slice(array_reverse($energy), 5000);
            // Backward integration (M. R. Schroeder, JASA 1965).
            $at = static function (float $db) use ($energy): int {
                for ($i = 0; 10.0 * log10($energy[$i] / $energy[0] + 1e-12) > $db; ++$i) {
                }

                return $i;
            };
            self::assertEqualsWithDelta(1.0, 2.0 * ($at(-35.0) - $at(-5.0)) / self::RATE / $settings->decayAt($hz), 0.1, "$hz Hz");
        }
    }

    public function testEchoesLieOffTheBeatBySoMuch(): void
    {
        $insert = (new DelaySettings('i1'))->with(['sixteenths' => 2, 'offsetMs' => -20.0, 'feedback' => 0.0, 'sides' => false, 'lowCutHz' => 20.0, 'highCutHz' => 20000.0])->insert(self::timing());
        $click = [0.5, ...array_fill(0, self::RATE, 0.0)];
        [$out] = $insert->process(new StereoBlock($click, $click), null, $insert->rest(), 0);
        $echo = \array_slice($out->left, 100, null, true);
        $loudest = (int) array_search(max([0.0, ...$echo]), $echo, true);
        self::assertEqualsWithDelta((self::timing()->tempo->seconds(480.0) - 0.02) * self::RATE, $loudest, 2.0);
    }

    /** Time of 60 dB by Schroeder's integration over the first 30 of them. */
    #[DataProvider('rooms')]
    public function testARoomRingsAsLongAsItSays(float $decay, float $size): void
    {
        $insert = (new ReverbSettings('i1', true, 0.0, $size, $decay, 100.0, 0.0, 20.0, 100.0, 100.0, false))->insert(self::timing());
        $noise = new Noise(5);
        $in = new StereoBlock([...$noise->block(2000), ...StereoBlock::silence((int) (1.2 * $decay * self::RATE))->left], [...$noise->block(2000), ...StereoBlock::silence((int) (1.2 * $decay * self::RATE))->left]);
        [$out] = $insert->process($in, null, $insert->rest(), 0);
        $energy = 0.0;
        $left = [];
        for ($i = $out->frames() - 1; $i >= 4000; --$i) {
            $energy += $out->left[$i] ** 2 + $out->right[$i] ** 2;
            $left[$i] = $energy;
        }
        $at = static function (float $db) use ($left, $energy): int {
            for ($i = 4000; $left[$i] > $energy * 10.0 ** ($db / 10.0); ++$i) {
            }

            return $i;
        };
        self::assertEqualsWithDelta($decay, 2.0 * ($at(-35.0) - $at(-5.0)) / self::RATE, 0.05 * $decay);
    }

    /** @return iterable<array{float, float}> */
    public static function rooms(): iterable
    {
        yield [0.5, 0.4];
        yield [1.6, 1.0];
        yield [4.0, 1.6];
    }

    /** After a tenth of a second echoes are as dense as noise: the share of values beyond one deviation is that of the normal distribution (Abel and Huang, 2006). */
    public function testARoomIsDenseAndItsSidesDiffer(): void
    {
        $insert = (new ReverbSettings('i1', true, 0.0, 1.0, 2.0, 80.0, 0.0, 20.0, 100.0, 100.0, false))->insert(self::timing());
        $click = new StereoBlock([1.0, ...array_fill(0, 22049, 0.0)], [1.0, ...array_fill(0, 22049, 0.0)]);
        [$out] = $insert->process($click, null, $insert->rest(), 0);
        foreach ([6000, 10000, 16000] as $from) {
            $part = \array_slice($out->left, $from, 1024);
            $deviation = sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, $part)) / 1024);
            $beyond = \count(array_filter($part, static fn (float $x): bool => abs($x) > $deviation)) / 1024;
            self::assertEqualsWithDelta(0.317, $beyond, 0.1, 'at '.$from);
        }
        $l = \array_slice($out->left, 4000, 12000);
        $r = \array_slice($out->right, 4000, 12000);
        $both = array_sum(array_map(static fn (float $a, float $b): float => $a * $b, $l, $r));
        self::assertLessThan(0.3, abs($both) / sqrt(array_sum(array_map(static fn (float $a): float => $a * $a, $l)) * array_sum(array_map(static fn (float $a): float => $a * $a, $r))));
    }

    public function testAGateOpensAndADuckerMakesRoom(): void
    {
        $quiet = Sounds::sine(300.0, 22050, self::RATE, 0.003);
        $loud = Sounds::sine(300.0, 22050, self::RATE, 0.3);
        $sound = [...$quiet, ...$loud, ...$quiet];
        $gate = (new GateSettings('i1', true, -40.0, 6.0, 1.0, 20.0, 50.0, 40.0))->insert(self::timing());
        [$out, , $curve] = $gate->process(new StereoBlock($sound, $sound), null, $gate->rest(), 0);
        $gains = $curve?->expand(66150) ?? [];
        self::assertEqualsWithDelta(0.01, $gains[20000], 1e-3);
        self::assertEqualsWithDelta(1.0, $gains[40000], 1e-3);
        // It stays open for its hold, then goes 63 % of the way in its release.
        $closes = 44100 + 882 + 2205;
        self::assertEqualsWithDelta(-40.0 * (1.0 - exp(-1.0)), 20.0 * log10($gains[$closes]), 1.5);
        self::assertLessThan(0.0002, Peak::of(\array_slice($out->left, 10000, 5000)));

        $kick = [...array_fill(0, 22050, 0.0), ...Sounds::sine(60.0, 4410, self::RATE, 0.9), ...array_fill(0, 39690, 0.0)];
        $ducker = (new DuckerSettings('i1', true, 9.0, -30.0, 3.0, 10.0, 100.0))->insert(self::timing());
        [, , $curve] = $ducker->process(new StereoBlock($loud, $loud), new StereoBlock(\array_slice($kick, 0, 22050), \array_slice($kick, 0, 22050)), $ducker->rest(), 0);
        self::assertSame([1.0, 1.0], $curve?->reductions(22050, 11040));
        [, , $curve] = $ducker->process(new StereoBlock($sound, $sound), new StereoBlock($kick, $kick), $ducker->rest(), 0);
        $gains = $curve?->expand(66150) ?? [];
        self::assertEqualsWithDelta(-9.0, 20.0 * log10($gains[22050 + 3500]), 0.1);
        self::assertEqualsWithDelta(1.0, $gains[60000], 0.01);
        self::assertEqualsWithDelta(-9.0 * (1.0 - exp(-1.0)), 20.0 * log10($gains[22050 + 132]), 1.2, 'Attack is the time to 63 %.');
    }

    public function testTransientsDoNotDependOnHowLoudItIs(): void
    {
        $insert = (new TransientsSettings('i1', true, 60.0, -40.0))->insert(self::timing());
        $gains = [];
        foreach ([0.9, 0.2] as $level) {
            $hit = [];
            for ($i = 0; $i < 22050; ++$i) {
                $hit[] = $level * exp(-$i / 4000.0) * sin(0.05 * $i + 1.0);
            }
            [, , $curve] = $insert->process(new StereoBlock($hit, $hit), null, $insert->rest(), 0);
            $gains[] = $curve?->expand(22050) ?? [];
        }
        self::assertGreaterThan(1.4, max([0.0, ...$gains[0]]));
        self::assertLessThan(0.85, $gains[0][12000]);
        self::assertEqualsWithDelta($gains[0][200], $gains[1][200], 0.05);
    }

    public function testWidthPlaceAndTheMiddleBelow(): void
    {
        $left = Sounds::sine(50.0, 44100, self::RATE, 0.4);
        $sound = new StereoBlock($left, array_map(static fn (float $x): float => -$x, $left));
        $mono = (new StereoSettings('i1', true, 100.0, 400.0))->insert(self::timing());
        [$out] = $mono->process($sound, null, $mono->rest(), 0);
        self::assertLessThan(0.4 * 0.05, Peak::of(\array_slice($out->left, 20000)), 'Lows that differ are gone.');
        $narrow = (new StereoSettings('i1', true, 0.0))->insert(self::timing());
        [$out] = $narrow->process(self::sound(4096), null, $narrow->rest(), 0);
        self::assertSame($out->left, $out->right);
        $turned = (new StereoSettings('i1', true, turnLeft: true))->insert(self::timing());
        [$out] = $turned->process($sound, null, $turned->rest(), 0);
        self::assertEqualsWithDelta($out->right, $out->left, 1e-6);
    }

    public function testFewBitsAndALowRate(): void
    {
        $insert = (new OldConverterSettings('i1', true, 4.0, 11025.0))->insert(self::timing());
        $tone = Sounds::sine(200.0, 8820, self::RATE, 0.9);
        [$out] = $insert->process(new StereoBlock($tone, $tone), null, $insert->rest(), 0);
        self::assertEqualsWithDelta(\count(array_unique($out->left)), 15, 1);
        self::assertSame($out->left[100], $out->left[103], 'Held for four frames.');
    }

    /** What moves goes by the frame that is played; in a loop it meets its start. */
    public function testWhatMovesMeetsItsStartInALoop(): void
    {
        $loop = new Timing(self::RATE, Tempo::bpm(97), 100003);
        foreach ([new TremoloSettings('i1', time: NoteLength::Free, rateHz: 0.77), new ChorusSettings('i1'), new PhaserSettings('i1')] as $settings) {
            self::assertEqualsWithDelta(round($loop->turns($settings->rateHz) * 100003), $loop->turns($settings->rateHz) * 100003, 1e-9);
            $insert = $settings->insert($loop);
            $sound = self::sound(2048);
            [$first] = $insert->process($sound, null, $insert->rest(), 0);
            [$again] = $insert->process($sound, null, $insert->rest(), 100003);
            self::assertEqualsWithDelta($first->left, $again->left, 1e-5);
        }
    }

    public function testChainsToStartFromCanBePutIn(): void
    {
        foreach (ReadyChain::cases() as $chain) {
            self::assertNotSame([], $chain->inserts());
            self::assertNotSame('', $chain->about());
            foreach ($chain->inserts() as $insert) {
                self::assertTrue($insert->acts());
            }
        }
    }

    private static function timing(): Timing
    {
        return new Timing(self::RATE, Tempo::bpm(93));
    }

    private static function sound(int $frames): StereoBlock
    {
        return Sounds::hit(4, $frames, 0.8);
    }

    /** @param list<float> $signal */
    private static function loudest(array $signal, int $from, int $count): int
    {
        $best = $from;
        for ($i = $from; $i < $from + $count; ++$i) {
            $best = abs($signal[$i]) > abs($signal[$best]) ? $i : $best;
        }

        return $best;
    }

    /** @param list<float> $signal */
    private static function energy(array $signal, int $at): float
    {
        return sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, \array_slice($signal, $at - 2, 40))));
    }
}
