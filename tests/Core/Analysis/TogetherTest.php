<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Grouping;
use Pestle\Core\Analysis\Together;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\StallVoices;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class TogetherTest extends TestCase
{
    private const RATE = 44100;

    /** @return iterable<string, array{Grouping, array<string, AudioSource>}> */
    public static function dropped(): iterable
    {
        yield 'three microphones of one snare' => [Grouping::Stack, [
            'Snare top' => self::placed(self::snare(1), 0.0, 0.9, 1.4),
            'Snare bottom' => self::placed(self::dulled(self::snare(1), 0.4), 0.0008, -0.5, 1.4),
            'Snare room' => self::placed(self::dulled(self::snare(1), 0.7), 0.009, 0.3, 1.4),
        ]];
        yield 'two microphones with plain names' => [Grouping::Stack, [
            'Rec 1' => self::placed(self::snare(4), 0.0, 0.9, 1.0),
            'Rec 2' => self::placed(self::dulled(self::snare(4), 0.5), 0.004, 0.5, 1.0),
        ]];
        yield 'three strikes of one snare' => [Grouping::Strength, [
            'Snare 3' => self::placed(self::snare(1), 0.0, 0.9, 0.5),
            'Snare 1' => self::placed(self::dulled(self::snare(2), 0.15), 0.0, 0.2, 0.42),
            'Snare 2' => self::placed(self::dulled(self::snare(3), 0.1), 0.0, 0.5, 0.47),
        ]];
        yield 'strikes written to the same length' => [Grouping::Strength, [
            'Tin v1' => self::placed(self::snare(5), 0.0, 0.1, 0.6),
            'Tin v2' => self::placed(self::snare(6), 0.0, 0.4, 0.6),
            'Tin v3' => self::placed(self::snare(7), 0.0, 0.9, 0.6),
        ]];
        yield 'one recording at three levels' => [Grouping::Strength, [
            'Kick a' => self::placed((new DrumVoices(self::RATE))->kick()->left, 0.0, 0.2, 0.5),
            'Kick b' => self::placed((new DrumVoices(self::RATE))->kick()->left, 0.0, 0.5, 0.5),
            'Kick c' => self::placed((new DrumVoices(self::RATE))->kick()->left, 0.0, 1.0, 0.5),
        ]];
        yield 'one snare struck four times alike' => [Grouping::Turn, [
            'Snare 1' => self::placed(self::snare(1), 0.0, 0.80, 0.5),
            'Snare 2' => self::placed(self::snare(2), 0.0, 0.82, 0.51),
            'Snare 3' => self::placed(self::snare(3), 0.0, 0.78, 0.49),
            'Snare 4' => self::placed(self::snare(9), 0.0, 0.81, 0.5),
        ]];
        yield 'a kick, a snare and a hat' => [Grouping::Free, [
            'Kick' => self::placed((new DrumVoices(self::RATE))->kick()->left, 0.0, 0.9, 0.5),
            'Snare' => self::placed(self::snare(1), 0.0, 0.9, 0.5),
            'Hat' => self::placed((new StallVoices(self::RATE))->hat(7000.0, 0.1)->left, 0.0, 0.5, 0.5),
        ]];
        yield 'one sound alone' => [Grouping::Free, ['Snare' => self::placed(self::snare(1), 0.0, 0.9, 0.5)]];
        yield 'silence twice' => [Grouping::Free, ['A' => self::placed([0.0], 0.0, 0.0, 0.5), 'B' => self::placed([0.0], 0.0, 0.0, 0.5)]];
    }

    /** @param non-empty-array<string, AudioSource> $sources */
    #[DataProvider('dropped')]
    public function testSoundsAreReadTheLikeliestWay(Grouping $expected, array $sources): void
    {
        self::assertSame($expected, Together::of($sources)->grouping);
    }

    public function testMicrophonesOfOneStrikeAreTrimmedTogether(): void
    {
        $lead = 0.2;
        $together = Together::of([
            'Close' => self::placed(self::snare(1), $lead, 0.9, 2.0),
            'Room' => self::placed(self::dulled(self::snare(1), 0.6), $lead + 0.008, 0.3, 2.0),
        ]);
        self::assertSame(Grouping::Stack, $together->grouping);
        // Nothing of the first is cut, and nothing is moved against the other: one start for both.
        self::assertLessThanOrEqual($lead * self::RATE, $together->start);
        self::assertGreaterThan(($lead - 0.01) * self::RATE, $together->start);
        self::assertLessThan(1.2 * self::RATE, $together->end);
        self::assertGreaterThan(($lead + 0.3) * self::RATE, $together->end);
    }

    /** @return list<float> */
    private static function snare(int $seed): array
    {
        $noise = new Noise(100 + $seed);
        $out = [];
        for ($i = 0; $i < 0.4 * self::RATE; ++$i) {
            $t = $i / self::RATE;
            $out[] = 0.5 * exp(-$t / 0.06) * (sin(2 * \M_PI * 188 * $t) + 0.6 * sin(2 * \M_PI * 336 * $t)) + 0.5 * exp(-$t / 0.09) * $noise->next();
        }

        return $out;
    }

    /**
     * @param list<float> $values
     *
     * @return list<float> with less highs
     */
    private static function dulled(array $values, float $amount): array
    {
        $y = 0.0;

        return array_map(static function (float $x) use (&$y, $amount): float { return $y += (1.0 - $amount) * ($x - $y); }, $values);
    }

    /** @param list<float> $values */
    private static function placed(array $values, float $at, float $gain, float $seconds): AudioSource
    {
        $out = array_fill(0, (int) ($seconds * self::RATE), 0.0);
        $first = (int) ($at * self::RATE);
        foreach ($values as $i => $value) {
            if ($first + $i < \count($out)) {
                $out[$first + $i] = $gain * $value;
            }
        }
        $out = array_values($out);

        return new MemorySource(new StereoBlock($out, $out), self::RATE);
    }
}
