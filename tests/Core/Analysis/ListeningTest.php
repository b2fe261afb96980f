<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Beats;
use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\Hit;
use Pestle\Core\Analysis\HitKind;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Theory\Key;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ListeningTest extends TestCase
{
    private const RATE = 44100;

    /** @return iterable<string, array{float, int}> note and sample rate */
    public static function notes(): iterable
    {
        yield 'a low string' => [33.07, 44100];
        yield 'between two notes' => [57.45, 48000];
        yield 'a whistle' => [88.9, 44100];
        yield 'a slow rate' => [45.2, 22050];
    }

    #[DataProvider('notes')]
    public function testANoteIsFoundToACent(float $note, int $rate): void
    {
        $hz = 440 * 2 ** (($note - 69) / 12);
        $tone = array_map(static fn (float $a, float $b, float $c): float => $a + $b + $c, Sounds::sine($hz, $rate, $rate, 0.3), Sounds::sine(2 * $hz, $rate, $rate, 0.2), Sounds::sine(3 * $hz, $rate, $rate, 0.15));
        $pitch = PitchGuess::of(new MemorySource(new StereoBlock($tone, $tone), $rate));
        self::assertNotNull($pitch);
        self::assertEqualsWithDelta($note, $pitch->note, 0.01);
        self::assertSame((int) round($note), $pitch->midi());
        self::assertEqualsWithDelta(100 * ($note - round($note)), $pitch->cents(), 1.0);
        self::assertGreaterThan(0.9, $pitch->confidence);
    }

    public function testNoiseHasNoNote(): void
    {
        $noise = (new Noise(4))->block(self::RATE);
        self::assertLessThan(0.3, PitchGuess::of(new MemorySource(new StereoBlock($noise, $noise), self::RATE))->confidence ?? 0.0);
        self::assertNull(PitchGuess::of(new MemorySource(StereoBlock::silence(self::RATE), self::RATE)));
    }

    /** Plain progressions in all keys, a quarter tone off tune as old records are. */
    public function testKeysOfChordLoops(): void
    {
        $score = 0.0;
        for ($tonic = 0; $tonic < 12; ++$tonic) {
            foreach ([false, true] as $minor) {
                $progression = $minor ? [[0, 3, 7], [8, 12, 15], [3, 7, 10], [10, 14, 17]] : [[0, 4, 7], [9, 12, 16], [5, 9, 12], [7, 11, 14]];
                /** @var list<float> $sound */
                $sound = [];
                foreach ($progression as $chord) {
                    $sound = [...$sound, ...self::chord([48 + $tonic + $chord[0] - 12, ...array_map(static fn (int $i): int => 48 + $tonic + $i, $chord)], 16000, 0.25)];
                }
                $chroma = Chroma::of(new MemorySource(new StereoBlock($sound, $sound), self::RATE));
                self::assertEqualsWithDelta(25.0, $chroma->cents, 6.0);
                $found = KeyGuess::of($chroma)->key ?? null;
                $score += $found?->name() === Key::of($tonic, $minor)->name() ? 1.0 : 0.0;
            }
        }
        self::assertGreaterThanOrEqual(20.0, $score, 'of 24');
        self::assertNull(KeyGuess::of(Chroma::of(new MemorySource(StereoBlock::silence(40000), self::RATE))));
    }

    /** Drums that go from 92 to 110 BPM, gradually and at once: their beats are followed. */
    public function testBeatsFollowATempoThatChanges(): void
    {
        foreach ([false, true] as $sudden) {
            $times = [0.0];
            for ($i = 0; $i < 96; ++$i) {
                $times[] = $times[$i] + 30 / ($sudden ? ($i < 48 ? 92 : 110) : 92 + 18 * $i / 96);
            }
            $heard = Heard::in(self::groove($times));
            self::assertNotNull($heard->beats);
            self::assertFalse($heard->beats->steady);
            $right = 0;
            $beats = array_map(static fn (int $k): float => $times[2 * $k], range(0, 47));
            foreach ($beats as $beat) {
                $right += [] !== array_filter($heard->beats->times, static fn (float $t): bool => abs($t - $beat) < 0.07) ? 1 : 0;
            }
            self::assertGreaterThan(0.9, 2 * $right / (48 + \count($heard->beats->times)));
        }
    }

    public function testASteadyLoopLiesOnAnEvenGridFromItsDownbeat(): void
    {
        $heard = Heard::in(self::groove(self::eighths()));
        self::assertSame('loop', $heard->kind);
        self::assertEqualsWithDelta(96.0, $heard->tempo->bpm ?? 0.0, 0.2);
        self::assertSame(4, $heard->tempo?->bars);
        self::assertTrue($heard->beats?->steady);
        self::assertCount(16, $heard->beats->times);
        foreach ($heard->beats->times as $k => $time) {
            self::assertEqualsWithDelta($k * 60 / 96, $time, 0.012);
        }
        self::assertSame([0, 4, 8, 12], array_keys(array_intersect($heard->beats->times, $heard->beats->downbeats)));
    }

    public function testKindsOfHits(): void
    {
        $heard = Heard::in(self::groove(self::eighths()));
        $kicks = array_filter($heard->hits, static fn (Hit $hit): bool => HitKind::Kick === $hit->kind);
        $snares = array_filter($heard->hits, static fn (Hit $hit): bool => HitKind::Snare === $hit->kind);
        self::assertCount(8, $kicks);
        self::assertCount(8, $snares);
        foreach ($heard->hits as $hit) {
            self::assertGreaterThan(0.0, $hit->confidence);
            self::assertLessThanOrEqual(1.0, $hit->confidence);
        }
    }

    /** @return list<float> four bars at 96 BPM, and their end */
    private static function eighths(): array
    {
        return array_map(static fn (int $i): float => 30.0 * $i / 96.0, range(0, 32));
    }

    /** @return iterable<string, array{StereoBlock, int}> */
    public static function odd(): iterable
    {
        yield 'one frame' => [new StereoBlock([0.5], [0.5]), 44100];
        yield 'silence' => [StereoBlock::silence(100000), 44100];
        yield 'very high rate' => [Sounds::hit(2, 60000), 384000];
        yield 'very low rate' => [Sounds::hit(2, 3000), 4000];
        yield 'full-scale square' => [new StereoBlock($s = array_map(static fn (int $i): float => $i % 200 < 100 ? 1.0 : -1.0, range(0, 50000)), $s), 44100];
    }

    #[DataProvider('odd')]
    public function testOddRecordingsAreHeardWithoutHarm(StereoBlock $block, int $rate): void
    {
        $heard = Heard::in(new MemorySource($block, $rate));
        self::assertSame('one-shot', $heard->kind);
        self::assertNull($heard->tempo);
        self::assertNull($heard->beats);
        foreach ($heard->hits as $hit) {
            self::assertLessThan($block->frames(), $hit->frame);
        }
    }

    /**
     * @param list<int> $notes
     *
     * @return list<float>
     */
    private static function chord(array $notes, int $frames, float $offTune): array
    {
        $out = array_fill(0, $frames, 0.0);
        foreach ($notes as $note) {
            $hz = 440 * 2 ** (($note + $offTune - 69) / 12);
            foreach ([1 => 0.1, 2 => 0.05, 3 => 0.03] as $partial => $level) {
                foreach (Sounds::sine($partial * $hz, $frames, self::RATE, $level) as $i => $x) {
                    $out[$i] += $x * exp(-$i / 12000);
                }
            }
        }

        return array_values($out);
    }

    /**
     * Eighths: kick on one and three, snare on two and four, a shaker on all.
     *
     * @param list<float> $times of the eighths and of the end
     */
    private static function groove(array $times): MemorySource
    {
        $kit = new DrumVoices(self::RATE);
        $sounds = [[$kit->kick(), 0.8], [$kit->shaker(), 0.3], [$kit->snare(), 0.7], [$kit->shaker(), 0.3]];
        $length = (int) round($times[\count($times) - 1] * self::RATE);
        $mix = array_fill(0, $length, 0.0);
        foreach (\array_slice($times, 0, -1) as $i => $time) {
            [$sound, $level] = $sounds[$i % 4];
            $at = (int) round($time * self::RATE);
            foreach ($sound->left as $n => $x) {
                if ($at + $n < $length) {
                    $mix[$at + $n] += $level * $x;
                }
            }
        }

        $mix = array_values($mix);

        return new MemorySource(new StereoBlock($mix, $mix), self::RATE);
    }

    /** A stretch in which no lag is a true dip: its parabola points anywhere, once before the start of time, where the search never ended. */
    public function testWhatHasNoDipIsListenedToInFiniteTime(): void
    {
        $guess = PitchGuess::of(SoundFile::open(\dirname(__DIR__, 2).'/fixtures/no-true-dip.wav'));
        self::assertNotNull($guess);
        self::assertGreaterThan(20.0, $guess->note);
        self::assertLessThan(128.0, $guess->note);
    }
}
