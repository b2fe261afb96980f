<?php

namespace Pestle\Tests\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\ChorusSettings;
use Pestle\Core\Mix\ChorusStyle;
use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\InsertSettings;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Mix\TransientsSettings;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Signal\Peak;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** What inserts do otherwise by the second rules, by known answers; and by the first as it was. */
final class SecondRulesTest extends TestCase
{
    private const RATE = 44100;

    #[TestWith([SoundRules::Second, 0.0])]
    #[TestWith([SoundRules::First, 2.0])]
    public function testEchoesOfAnOpenDelayComeAgainAsTheyCame(SoundRules $rules, float $lost): void
    {
        $delay = new DelaySettings('i1', true, NoteLength::Free, 3, 20.0, 90.0, 20.0, 20000.0, false, 100.0);
        $noise = [...(new Noise(4))->block(512), ...array_fill(0, 7 * 882, 0.0)];
        $heard = self::heard($delay, $noise, $rules);
        $level = static fn (int $echo): float => self::powerDb(\array_slice($heard, 882 * $echo, 512));
        self::assertEqualsWithDelta($lost, $level(1) - $level(6) + 5.0 * Decibels::fromGain(0.9), 0.01 + 0.2 * $lost);
    }

    /** Wherever it is read between its values, a high tone is as loud as a low one. */
    #[TestWith([SoundRules::Second, 0.0, 0.25])]
    #[TestWith([SoundRules::First, 2.9, 5.0])]
    public function testAVibratoDoesNotDullWhatItBends(SoundRules $rules, float $least, float $most): void
    {
        $vibrato = new ChorusSettings('i1', style: ChorusStyle::Vibrato, rateHz: 1.0, depth: 20.0);
        $heard = self::heard($vibrato, Sounds::sine(15000.0, self::RATE, self::RATE, 0.5), $rules);
        $levels = array_map(self::powerDb(...), array_chunk(\array_slice($heard, 2000, 40000), 50));
        $own = Decibels::fromGain(0.5 / sqrt(2.0));
        $lost = $own - min([0.0, ...$levels]);
        self::assertGreaterThanOrEqual($least, $lost + 0.25);
        self::assertLessThanOrEqual($most, $lost);
        self::assertLessThan(0.25, max([-99.0, ...$levels]) - $own);
    }

    #[TestWith([30.0])]
    #[TestWith([42.0])]
    #[TestWith([55.0])]
    public function testTheSwingsOfABassAreNoAttacks(float $hz): void
    {
        $tone = Sounds::sine($hz, 2 * self::RATE, self::RATE, 0.5);
        $gains = static function (SoundRules $rules) use ($tone): array {
            $insert = (new TransientsSettings('i1', true, 100.0))->insert(self::timing($rules));
            [, , $curve] = $insert->process(new StereoBlock($tone, $tone), null, $insert->rest(), 0);

            return array_map(Decibels::fromGain(...), $curve?->expand(\count($tone)) ?? []);
        };
        $steady = \array_slice($gains(SoundRules::Second), self::RATE);
        self::assertLessThan(0.1, max([0.0, ...$steady]));
        self::assertGreaterThan(6.0, max([0.0, ...\array_slice($gains(SoundRules::Second), 0, 4000)]), 'Its beginning is one.');
        self::assertGreaterThan(1.0, max([0.0, ...\array_slice($gains(SoundRules::First), self::RATE)]));
    }

    /** A sound that was louder before hides no hit, and a hit is the same attack in whatever pieces it comes. */
    public function testHitsAreAttacksOverABassToo(): void
    {
        $bass = Sounds::sine(45.0, self::RATE, self::RATE, 0.2);
        $bass = array_map(static fn (float $x, int $i): float => $i < 20000 ? $x : $x + 0.7 * exp(-($i - 20000) / 500.0) * sin(0.2 * ($i - 20000)), $bass, array_keys($bass));
        $insert = (new TransientsSettings('i1', true, 100.0))->insert(self::timing(SoundRules::Second));
        [, , $curve] = $insert->process(new StereoBlock($bass, $bass), null, $insert->rest(), 0);
        $gains = $curve?->expand(self::RATE) ?? [];
        self::assertGreaterThan(1.8, max([0.0, ...\array_slice($gains, 20000, 600)]));
        self::assertLessThan(1.05, max([0.0, ...\array_slice($gains, 30000)]));
    }

    #[TestWith([0.0, 0.2])]
    #[TestWith([1.0, 0.2])]
    #[TestWith([2.5, 0.4])]
    #[TestWith([4.0, 0.0])]
    public function testAVowelIsAsLoudAsWhatItIsMadeOf(float $vowel, float $resonance): void
    {
        $noise = self::pink(65536);
        $mouth = (new FilterSettings('i1'))->with(['shape' => SweptShape::Formant, 'vowel' => $vowel, 'resonance' => $resonance, 'octaves' => 0.0, 'follow' => 0.0, 'mix' => 100.0]);
        self::assertEqualsWithDelta(0.0, self::powerDb(self::heard($mouth, $noise, SoundRules::Second)) - self::powerDb($noise), 3.0);
        self::assertLessThan(-7.0, self::powerDb(self::heard($mouth, $noise, SoundRules::First)) - self::powerDb($noise));
    }

    /** @param list<float> $signal */
    private static function powerDb(array $signal): float
    {
        return 10.0 * log10(array_sum(array_map(static fn (float $x): float => $x * $x, $signal)) / \count($signal));
    }

    /** @return list<float> as much in every octave from 30 Hz to 16 kHz */
    private static function pink(int $frames): array
    {
        [$re, $im] = (new Fft($frames))->forward((new Noise(8))->block($frames));
        foreach ($re as $bin => $value) {
            $hz = $bin * self::RATE / $frames;
            $gain = $hz < 30.0 || $hz > 16000.0 ? 0.0 : 1.0 / sqrt($hz);
            [$re[$bin], $im[$bin]] = [$gain * $value, $gain * $im[$bin]];
        }
        $pink = (new Fft($frames))->inverse($re, $im);
        $peak = Peak::of($pink);

        return array_map(static fn (float $x): float => 0.5 * $x / $peak, $pink);
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function heard(InsertSettings $settings, array $signal, SoundRules $rules): array
    {
        $insert = $settings->insert(self::timing($rules));

        return $insert->process(new StereoBlock($signal, $signal), null, $insert->rest(), 0)[0]->left;
    }

    private static function timing(SoundRules $rules): Timing
    {
        return new Timing(self::RATE, Tempo::bpm(90), null, $rules);
    }
}
