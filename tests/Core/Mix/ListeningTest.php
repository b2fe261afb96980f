<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\Detector;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\FixedInserts;
use Pestle\Core\Mix\Formants;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Signal\TruePeak;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** What compressors, limiters and duckers hear, and when they act on it; combs and vowels. */
final class ListeningTest extends TestCase
{
    private const RATE = 44100;

    public function testListeningToPowerTakesAsLongAsIsSet(): void
    {
        $seconds = static function (float $attack, float $release, float $over, SoundRules $rules): array {
            $level = sqrt(2.0) * Decibels::toGain(-30.0 + $over);
            $tone = [...Sounds::sine(3000, 44100, 44100, $level), ...Sounds::sine(3000, 44100, 44100, 0.01 * $level)];
            $compressor = (new CompressorSettings('i1'))->with(['thresholdDb' => -30.0, 'ratio' => 4.0, 'kneeDb' => 0.0, 'attackMs' => $attack, 'releaseMs' => $release, 'detector' => Detector::Rms])->insert(new Timing(44100.0, Tempo::bpm(90.0), null, $rules));
            [$sound] = $compressor->process(new StereoBlock($tone, $tone), null, $compressor->rest(), 0);
            $db = [];
            // A period at a time.
            for ($i = 0; $i + 15 <= 88200; $i += 15) {
                $db[] = 10.0 * log10(self::power($sound->left, $i) / self::power($tone, $i));
            }
            $attacked = array_filter($db, static fn (float $d): bool => $d < 0.632 * $db[2900]);
            $released = array_filter(\array_slice($db, 2941), static fn (float $d): bool => $d > 0.368 * $db[2900]);

            return [15.0 / 44.1 * array_key_first($attacked), 15.0 / 44.1 * array_key_first($released)];
        };
        foreach ([[1.0, 50.0], [3.0, 100.0], [10.0, 100.0], [30.0, 200.0]] as [$attack, $release]) {
            foreach ([12.0, 24.0] as $over) {
                [$up, $down] = $seconds($attack, $release, $over, SoundRules::Second);
                // Gain follows in steps of a third of a millisecond.
                self::assertEqualsWithDelta($attack, $up, 0.2 * $attack + 0.2, "attack $attack, $over dB over");
                self::assertEqualsWithDelta($release, $down, 0.12 * $release, "release $release, $over dB over");
            }
        }
        self::assertGreaterThan(4.0, $seconds(1.0, 50.0, 12.0, SoundRules::First)[0], 'by the first rules as it was');
    }

    /** On a steady tone it does what the plain one does; by mean power it takes a sine for 3 dB softer than its peak. */
    public function testATonesReductionIsThatOfTheCurve(): void
    {
        foreach ([[['auto' => true], 0.75 * 12.0], [['detector' => Detector::Rms], 0.75 * (12.0 - 3.01)], [['belowHz' => 10000.0], 0.75 * 12.0]] as [$how, $reduction]) {
            $settings = (new CompressorSettings('i1', true, -30.0, 4.0, 5.0, 80.0))->with($how);
            [$out] = self::through($settings, Sounds::sine(1000.0, 60000, self::RATE, Decibels::toGain(-18.0)));
            self::assertEqualsWithDelta(-18.0 - $reduction, Decibels::fromGain(Peak::of(\array_slice($out, 50000))), 0.1, json_encode($how) ?: '');
        }
    }

    /** Attack and release are times to 63 % of the way with this way of listening as well. */
    public function testItsTimesAreWhatTheySay(): void
    {
        foreach ([[10.0, 40.0], [30.0, 200.0]] as [$attack, $release]) {
            $settings = (new CompressorSettings('i1', true, -30.0, 4.0, $attack, $release))->with(['aboveHz' => 30.0]);
            $loud = (int) (self::RATE * 0.01 * $attack);
            $sound = [...array_fill(0, 800, 0.0), ...Sounds::sine(2000.0, $loud, self::RATE, Decibels::toGain(-18.0)), ...array_fill(0, (int) (44100 * 0.004 * $release), 0.0)];
            [, $gains] = self::through($settings, $sound);
            $depths = array_map(static fn (float $g): float => -Decibels::fromGain($g), $gains);
            $reached = self::first($depths, 800, static fn (float $d): bool => $d >= 0.632 * 9.0) - 800;
            $let = self::first($depths, 800 + $loud, static fn (float $d): bool => $d <= 0.368 * 9.0) - 800 - $loud;
            self::assertEqualsWithDelta(1.0, $reached / 44.1 / $attack, 0.1);
            self::assertEqualsWithDelta(1.0, $let / 44.1 / $release, 0.1);
        }
    }

    /** Hits are let go sooner than a tone: by as much as their crest factor is higher. */
    public function testAutomaticReleaseFollowsTheSound(): void
    {
        $after = static function (bool $auto, float ...$sound): float {
            $settings = (new CompressorSettings('i1', true, -40.0, 4.0, 1.0, 400.0))->with(['auto' => $auto]);
            [, $gains] = self::through($settings, [...array_values($sound), ...array_fill(0, 40000, 0.0)]);
            $depths = array_map(static fn (float $g): float => -Decibels::fromGain($g), $gains);
            $from = \count($sound);

            return (self::first($depths, $from, static fn (float $d): bool => $d <= 0.368 * $depths[$from]) - $from) / 44.1;
        };
        $tone = Sounds::sine(500.0, 60000, self::RATE, 0.5);
        $hits = array_merge(...array_fill(0, 6, [...Sounds::sine(2000.0, 300, self::RATE, 0.8), ...array_fill(0, 9000, 0.0)]), ...[Sounds::sine(2000.0, 300, self::RATE, 0.8)]);
        self::assertEqualsWithDelta(400.0, $after(false, ...$hits), 40.0);
        self::assertEqualsWithDelta(400.0, $after(true, ...$tone), 120.0);
        self::assertLessThan(130.0, $after(true, ...$hits));
    }

    public function testItHearsOnlyWhatItIsToHear(): void
    {
        $low = Sounds::sine(60.0, 40000, self::RATE, 0.5);
        foreach ([[['aboveHz' => 400.0], 0.5], [['belowHz' => 400.0], 0.5 * Decibels::toGain(-0.75 * 24.0)]] as [$how, $level]) {
            [$out] = self::through((new CompressorSettings('i1', true, -30.0, 4.0, 5.0, 80.0))->with($how), $low);
            self::assertEqualsWithDelta(Decibels::fromGain($level), Decibels::fromGain(Peak::of(\array_slice($out, 30000))), 0.3);
        }
    }

    /** It is down before the hit comes: the gain has gone its way by as much as it looks ahead. */
    public function testLookingAheadCatchesTheAttack(): void
    {
        $hit = [...array_fill(0, 4000, 0.0), ...Sounds::sine(1000.0, 8000, self::RATE, 0.8)];
        $settings = new CompressorSettings('i1', true, -30.0, 20.0, 1.0, 100.0);
        $late = $settings->with(['aheadMs' => 8.0]);
        $frames = $late->lateFrames(self::RATE);
        self::assertSame(352, $frames);
        [$before] = self::through($settings, $hit);
        [$after] = self::through($late, [...$hit, ...array_fill(0, $frames, 0.0)]);
        self::assertGreaterThan(0.6, Peak::of(\array_slice($before, 4000, 200)));
        self::assertLessThan(0.05, Peak::of(\array_slice($after, 4000 + $frames, 200)));
        self::assertEqualsWithDelta(Peak::of(\array_slice($before, 10000, 400)), Peak::of(\array_slice($after, 10000 + $frames, 400)), 1e-3);
    }

    public function testTheLimiterLetsNothingThroughItsCeiling(): void
    {
        $sound = Sounds::sine(997.0, 30000, self::RATE, 0.9);
        [$out, $gains] = self::through((new LimiterSettings('i1'))->with(['gainDb' => 18.0, 'ceilingDb' => -3.0, 'releaseMs' => 40.0]), [...$sound, ...array_fill(0, 300, 0.0)]);
        self::assertLessThan(-2.9, Decibels::fromGain(Peak::of(TruePeak::peaks($out))));
        self::assertGreaterThan(-3.6, Decibels::fromGain(Peak::of($out)));
        self::assertEqualsWithDelta(-3.25, Decibels::fromGain(0.9 * $gains[15000]), 0.1);
        // What is soft is louder by just what was asked for.
        [$soft] = self::through((new LimiterSettings('i1'))->with(['gainDb' => 6.0]), array_map(static fn (float $x): float => 0.01 * $x, [...$sound, ...array_fill(0, 256, 0.0)]));
        self::assertEqualsWithDelta(0.01 * Decibels::toGain(6.0) * $sound[12000], $soft[12256], 1e-6);
    }

    public function testADuckerWithoutAttackIsDownFromTheVeryFrame(): void
    {
        $tone = array_fill(0, 9000, 0.5);
        $key = array_fill(0, 9000, 0.0);
        array_splice($key, 3005, 100, array_fill(0, 100, 0.7));
        $insert = FixedInserts::one((new DuckerSettings('i1'))->with(['depthDb' => 20.0, 'attackMs' => 0.0, 'holdMs' => 20.0]), self::timing());
        [$out] = $insert->process(new StereoBlock($tone, $tone), new StereoBlock($key, $key), $insert->rest(), 0);
        self::assertSame(0.5, $out->left[3004]);
        self::assertEqualsWithDelta(0.05, $out->left[3005], 1e-6);
        self::assertEqualsWithDelta(0.05, $out->left[3600], 1e-6);
        self::assertGreaterThan(0.1, $out->left[8999]);
    }

    /** Half of a sound and half of what is made of it; of a gain that is a gain. */
    public function testAShareIsBesideTheSoundAsItCame(): void
    {
        $tone = Sounds::sine(3000.0, 8192, self::RATE, 0.25);
        $eq = new EqualizerSettings('i1', [new EqBand(EqShape::Peak, 900.0, 9.0, 1.0, true)]);
        [$wet] = self::through($eq, $tone);
        [$half] = self::through($eq->with(['mix' => 50.0]), $tone);
        foreach ([100, 3000, 8000] as $i) {
            self::assertEqualsWithDelta(0.5 * ($tone[$i] + $wet[$i]), $half[$i], 3e-7);
        }
        $compressor = new CompressorSettings('i1', true, -40.0, 10.0, 5.0, 80.0);
        [, $all] = self::through($compressor, $tone);
        [$out, $some] = self::through($compressor->with(['mix' => 25.0]), $tone);
        self::assertEqualsWithDelta(0.75 + 0.25 * $all[8000], $some[8000], 1e-9);
        self::assertEqualsWithDelta($tone[8000] * $some[8000], $out[8000], 3e-7);
    }

    /** As high above the valleys as (1 + g) / (1 - g), at its note and its multiples. */
    /** Its note moves evenly: what lies far above a tone and its echoes is nothing. */
    public function testACombThatMovesDoesNotBuzz(): void
    {
        $insert = (new FilterSettings('i1'))->with(['shape' => SweptShape::Comb, 'cutoffHz' => 300.0, 'octaves' => 2.0, 'resonance' => 0.6, 'time' => NoteLength::Free, 'rateHz' => 2.0])->insert(self::timing());
        $tone = Sounds::sine(150.0, self::RATE, self::RATE, 0.5);
        [$out] = $insert->process(new StereoBlock($tone, $tone), null, $insert->rest(), 0);
        $high = Biquad::highPass(4000.0, 0.7, self::RATE);
        $buzz = \array_slice($high->filter($high->filter($out->left)), 2000);
        self::assertLessThan(-105.0, 10.0 * log10(array_sum(array_map(static fn (float $x): float => $x * $x, $buzz)) / \count($buzz) + 1e-20));
    }

    public function testACombRingsAtItsNote(): void
    {
        $settings = (new FilterSettings('i1'))->with(['shape' => SweptShape::Comb, 'cutoffHz' => 441.0, 'resonance' => 0.5]);
        $response = self::response($settings);
        $g = 0.98 * sqrt(0.5);
        foreach ([1, 2, 5] as $n) {
            self::assertEqualsWithDelta(20.0 * log10((1.0 + $g) / (1.0 - $g)), $response(441.0 * $n) - $response(441.0 * ($n + 0.5)), 0.3);
        }
    }

    public function testVowelsHaveTheirFormants(): void
    {
        foreach ([0.0, 2.0, 3.0] as $vowel) {
            $response = self::response((new FilterSettings('i1'))->with(['shape' => SweptShape::Formant, 'vowel' => $vowel, 'resonance' => 0.7]));
            [$hz, $gains] = Formants::of($vowel);
            $highest = 150.0;
            for ($f = 150.0; $f < 1500.0; $f *= 1.01) {
                $highest = $response($f) > $response($highest) ? $f : $highest;
            }
            self::assertEqualsWithDelta(1.0, $highest / $hz[0], 0.05, 'first formant');
            self::assertEqualsWithDelta(20.0 * log10($gains[0] * Formants::makeup($gains, Formants::q(0.7))), $response($hz[0]), 1.0);
        }
    }

    /** @return \Closure(float): float dB at a frequency, of the answer to one pulse */
    private static function response(InsertSettings $settings): \Closure
    {
        $n = 32768;
        [$out] = self::through($settings, [0.5, ...array_fill(0, $n - 1, 0.0)]);
        $magnitudes = (new Fft($n))->magnitudes($out);

        return static fn (float $hz): float => Decibels::fromGain($magnitudes[(int) round($hz * $n / self::RATE)] / 0.5);
    }

    /**
     * @param list<float> $sound
     *
     * @return array{list<float>, list<float>} what comes out, and the gain where it was one
     */
    private static function through(InsertSettings $settings, array $sound): array
    {
        $insert = FixedInserts::one($settings, self::timing());
        [$out, , $curve] = $insert->process(new StereoBlock($sound, $sound), null, $insert->rest(), 0);

        return [$out->left, $curve?->expand(\count($sound)) ?? []];
    }

    /** @param list<float> $values */
    private static function first(array $values, int $from, \Closure $is): int
    {
        for ($i = $from; isset($values[$i]) && !$is($values[$i]); ++$i) {
        }

        return $i;
    }

    private static function timing(): Timing
    {
        return new Timing((float) self::RATE, Tempo::bpm(120.0));
    }

    /** @param list<float> $side */
    private static function power(array $side, int $at): float
    {
        return array_sum(array_map(static fn (float $x): float => $x * $x, \array_slice($side, $at, 15)));
    }
}
