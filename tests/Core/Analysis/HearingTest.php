<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\Hit;
use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Synth\TonalVoices;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class HearingTest extends TestCase
{
    /** EBU Tech 3341, first cases: a stereo sine of 1 kHz at -23 dBFS measures -23 LUFS. */
    public function testLoudnessOfReferenceTones(): void
    {
        foreach ([[44100, -23.0], [48000, -33.0]] as [$rate, $db]) {
            $sine = Sounds::sine(1000, 4 * $rate, $rate, 10 ** ($db / 20));
            $loudness = Loudness::of(new MemorySource(new StereoBlock($sine, $sine), $rate));
            self::assertEqualsWithDelta($db, $loudness->integratedLufs, 0.1);
            self::assertEqualsWithDelta($db, $loudness->truePeakDb, 0.1);
        }
        $silence = Loudness::of(new MemorySource(StereoBlock::silence(44100), 44100));
        self::assertLessThan(-100.0, $silence->integratedLufs);
    }

    public function testSingleHitsAreToldApart(): void
    {
        $kit = new DrumVoices(44100);
        foreach (['kick' => $kit->kick(), 'snare' => $kit->snare(), 'clap' => $kit->clap(), 'open hat' => $kit->openHat(), 'percussion' => $kit->shaker()] as $kind => $sound) {
            $hits = Heard::in(new MemorySource($sound, 44100))->hits;
            self::assertSame([$kind], array_map(static fn (Hit $hit): string => $hit->kind->value, $hits));
        }
    }

    public function testSingleSoundsAreToldByTheirUseAloneAndWithTheTailOfARoom(): void
    {
        $kit = new DrumVoices(44100);
        $tones = new TonalVoices(44100);
        $room = (new ReverbSettings('i1'))->with(['mix' => 35.0, 'decay' => 1.2, 'size' => 1.0])->insert(new Timing(44100.0, Tempo::bpm(93)));
        $silence = array_fill(0, 22050, 0.0);
        foreach (['kick' => $kit->kick(), 'snare' => $kit->snare(), 'clap' => $kit->clap(), 'open-hat' => $kit->openHat(), 'percussion' => $kit->shaker(), 'bass' => $tones->bass(33.0), 'tonal' => (new OldPiano(44100))->recording([[64, 0.0, 1.5, 90]], 2.0)] as $role => $sound) {
            [$wet] = $room->process(new StereoBlock([...$sound->left, ...$silence], [...$sound->right, ...$silence]), null, $room->rest(), 0);
            foreach ([$sound, $wet] as $block) {
                $heard = Heard::in(new MemorySource($block, 44100));
                self::assertSame([$role, 'one-shot'], [$heard->role, $heard->kind]);
                self::assertGreaterThan(0.4, $heard->roleSure);
            }
        }
        // What begins again is no single sound.
        [$loop] = self::drums(92.0, 0);
        self::assertSame(['loop', null], [Heard::in($loop)->kind, Heard::in($loop)->role]);
    }

    public function testSilentStretchesAreGatedOut(): void
    {
        $sine = [...Sounds::sine(1000, 132300, 44100, 0.1), ...array_fill(0, 132300, 0.0)];
        self::assertEqualsWithDelta(-20.0, Loudness::of(new MemorySource(new StereoBlock($sine, $sine), 44100))->integratedLufs, 0.3);
    }

    /** @return iterable<string, array{string, float, string, int, float}> a bar in steps, steps a minute, its meter, bars, beats a minute */
    public static function meters(): iterable
    {
        yield 'three' => ['k.h.s.h.s.h.', 480.0, '3/4', 4, 120.0];
        yield 'three, with one backbeat' => ['k.h.h.h.s.h.', 400.0, '3/4', 8, 100.0];
        yield 'six' => ['khhshh', 195.0, '6/8', 8, 65.0];
        yield 'twelve' => ['khhshkkhhshh', 300.0, '12/8', 4, 100.0];
        yield 'four' => ['k.h.s.h.k.k.s.h.', 360.0, '4/4', 4, 90.0];
    }

    #[DataProvider('meters')]
    public function testBarsOfThreeFourSixAndTwelveAreToldApart(string $bar, float $stepsAMinute, string $meter, int $bars, float $bpm): void
    {
        $kit = new DrumVoices(44100);
        $sounds = ['k' => $kit->kick(), 's' => $kit->snare(), 'h' => $kit->shaker()];
        $step = 44100 * 60 / $stepsAMinute;
        $mix = array_map(static fn (float $x): float => 0.0005 * $x, (new Noise(8))->block((int) round($step * $bars * \strlen($bar))));
        foreach (str_split(str_repeat($bar, $bars)) as $i => $letter) {
            foreach (isset($sounds[$letter]) ? $sounds[$letter]->left : [] as $n => $x) {
                if (isset($mix[(int) round($i * $step) + $n])) {
                    $mix[(int) round($i * $step) + $n] += 0.7 * $x;
                }
            }
        }
        $heard = Heard::in(new MemorySource(new StereoBlock(array_values($mix), array_values($mix)), 44100));
        self::assertSame($meter, $heard->tempo?->meter->meter->name());
        // Six in two or in six: the bars are the same.
        $aBar = $heard->tempo->meter->meter->countedBeats($heard->tempo->bpm);
        self::assertEqualsWithDelta($step * \strlen($bar) / 44100, 60.0 * $aBar / $heard->tempo->bpm, 0.002);
        self::assertSame($bars, $heard->tempo->bars);
        self::assertCount($bars, $heard->beats->downbeats ?? []);
        self::assertEqualsWithDelta(0.0, $heard->beats->downbeats[0] ?? 1.0, 0.03);
    }

    /** @return iterable<string, array{float, int}> */
    public static function grooves(): iterable
    {
        yield '74 BPM' => [74.0, 0];
        yield '92 BPM, swung' => [92.0, 40];
        yield '125 BPM' => [125.0, 0];
        yield '150 BPM, swung' => [150.0, 25];
    }

    #[DataProvider('grooves')]
    public function testHitsAndTempoOfADrumLoopAreFound(float $bpm, int $swing): void
    {
        [$source, $truth] = self::drums($bpm, $swing);
        $heard = Heard::in($source);
        $found = array_map(static fn (Hit $hit): int => $hit->frame, $heard->hits);
        $right = 0;
        foreach ($truth as $frame) {
            foreach ($found as $hit) {
                if (abs($hit - $frame) <= 0.02 * 44100) {
                    ++$right;
                    break;
                }
            }
        }
        $score = 2 * $right / (\count($truth) + \count($found));
        self::assertGreaterThan(0.94, $score, \sprintf('%d of %d, %d found', $right, \count($truth), \count($found)));
        $tempo = $heard->tempo;
        self::assertNotNull($tempo);
        // A fast loop may be heard as one of half the tempo and half the bars; its length must agree with either.
        $factor = $bpm > 140 && $tempo->bpm < 0.6 * $bpm ? 2 : 1;
        self::assertEqualsWithDelta($bpm / $factor, $tempo->bpm, 0.005 * $bpm);
        self::assertSame(intdiv(4, $factor), $tempo->bars);
    }

    public function testSensitivityFindsMore(): void
    {
        [$source] = self::drums(92, 0);
        $few = Onsets::find($source, 0.05);
        $many = Onsets::find($source, 0.95);
        self::assertLessThan(\count($many), \count($few));
        self::assertSame([], Onsets::find(new MemorySource(StereoBlock::silence(44100), 44100)));
        self::assertSame([], Onsets::find(new MemorySource(StereoBlock::silence(1), 44100)));
        $apart = Onsets::find($source, 0.95, 0.3);
        foreach (\array_slice($apart, 1) as $i => $frame) {
            self::assertGreaterThanOrEqual(0.3 * 44100, $frame - $apart[$i]);
        }
    }

    /** @return array{MemorySource, list<int>} four bars of kick, snare and hat, and where their hits begin */
    private static function drums(float $bpm, int $swing): array
    {
        $kit = new DrumVoices(44100);
        $sounds = ['k' => $kit->kick(), 's' => $kit->snare(), 'h' => $kit->shaker()];
        $step = 44100 * 15 / $bpm;
        $mix = array_map(static fn (float $x): float => 0.0005 * $x, (new Noise(8))->block((int) round($step * 64)));
        $truth = [];
        for ($i = 0; $i < 64; ++$i) {
            $letter = [0 => 'k', 4 => 's', 7 => 'k', 10 => 'k', 12 => 's'][$i % 16] ?? (0 === $i % 2 ? 'h' : null);
            if (null === $letter) {
                continue;
            }
            $at = (int) round(($i + (1 === $i % 2 ? $swing / 100 : 0)) * $step);
            $truth[] = $at;
            foreach ($sounds[$letter]->left as $n => $x) {
                if (isset($mix[$at + $n])) {
                    $mix[$at + $n] += 0.7 * $x;
                }
            }
        }

        return [new MemorySource(new StereoBlock($mix, $mix), 44100), $truth];
    }
}
