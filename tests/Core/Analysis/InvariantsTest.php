<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Heard;
use Pestle\Core\Analysis\Hit;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\PitchGuess;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Sample\Edit;
use Pestle\Core\Sample\EditKind;
use Pestle\Core\Sample\Effect\Joined;
use Pestle\Core\Sample\Effect\Part;
use Pestle\Core\Sample\Material;
use Pestle\Core\Sample\Stretched;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Theory\Key;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** What is heard moves with what is done to the sound, and with nothing else. */
final class InvariantsTest extends TestCase
{
    private static MemorySource $groove;
    private static Heard $heard;

    public static function setUpBeforeClass(): void
    {
        self::$groove = self::groove(98.0);
        self::$heard = Heard::in(self::$groove);
    }

    public function testLevelChangesOnlyLoudness(): void
    {
        $soft = Heard::in((new Edit(EditKind::Gain, null, null, ['db' => -18.0]))->apply(self::$groove));
        self::assertEqualsWithDelta(self::$heard->loudness->integratedLufs - 18.0, $soft->loudness->integratedLufs, 0.01);
        self::assertEqualsWithDelta(self::$heard->loudness->truePeakDb - 18.0, $soft->loudness->truePeakDb, 0.01);
        self::assertSame(self::places(self::$heard), self::places($soft));
        self::assertSame(self::kinds(self::$heard), self::kinds($soft));
        self::assertSame(self::$heard->tempo?->bpm, $soft->tempo?->bpm);
    }

    public function testSilenceBeforeItMovesEveryHit(): void
    {
        $delay = 7321;
        $silence = new MemorySource(StereoBlock::silence($delay), 44100);
        $later = Heard::in(new Joined([$silence, self::$groove], [0]));
        self::assertCount(\count(self::$heard->hits), $later->hits);
        foreach (self::places(self::$heard) as $i => $place) {
            self::assertEqualsWithDelta($place + $delay, self::places($later)[$i], 0.006 * 44100);
        }
        self::assertEqualsWithDelta(98.0, $later->tempo->bpm ?? 0.0, 0.4);
    }

    public function testAnotherSampleRateIsTheSameMusic(): void
    {
        foreach ([48000, 96000, 22050] as $rate) {
            $there = Heard::in(Resampled::toRate(self::$groove, $rate));
            self::assertEqualsWithDelta(self::$heard->loudness->integratedLufs, $there->loudness->integratedLufs, 0.6, "$rate Hz");
            self::assertEqualsWithDelta(98.0, $there->tempo->bpm ?? 0.0, 0.3, "$rate Hz");
            self::assertCount(\count(self::$heard->hits), $there->hits, "$rate Hz");
            foreach ($there->hits as $i => $hit) {
                self::assertEqualsWithDelta(self::places(self::$heard)[$i] / 44100, $hit->frame / $rate, 0.006, "$rate Hz");
            }
        }
    }

    public function testStretchingMovesTempoAndBeatsByItsRatio(): void
    {
        foreach ([0.75, 1.2] as $ratio) {
            $stretched = Heard::in(Stretched::by(self::$groove, $ratio, Material::Hits, self::places(self::$heard)));
            self::assertEqualsWithDelta(98.0 / $ratio, $stretched->tempo->bpm ?? 0.0, 0.4);
            self::assertSame(self::$heard->tempo?->bars, $stretched->tempo?->bars);
            self::assertCount(\count(self::$heard->beats->times ?? []), $stretched->beats->times ?? []);
            foreach (self::$heard->beats->times ?? [] as $i => $time) {
                self::assertEqualsWithDelta($time * $ratio, $stretched->beats->times[$i] ?? -1.0, 0.015);
            }
        }
    }

    public function testHalfOfALoopHasItsTempo(): void
    {
        $half = Heard::in(new Part(self::$groove, 0, intdiv(self::$groove->frames(), 2)));
        self::assertEqualsWithDelta(98.0, $half->tempo->bpm ?? 0.0, 0.3);
        self::assertSame(2, $half->tempo?->bars);
    }

    public function testPitchingMovesKeyAndNoteAlike(): void
    {
        $sound = [];
        foreach ([[57, 60, 64], [53, 57, 60], [48, 52, 55], [55, 59, 62]] as $chord) {
            $part = array_fill(0, 20000, 0.0);
            foreach ([$chord[0] - 12, ...$chord] as $note) {
                foreach (Sounds::sine(440 * 2 ** (($note - 69) / 12), 20000, 44100, 0.1) as $i => $x) {
                    $part[$i] += $x * exp(-$i / 15000);
                }
            }
            $sound = [...$sound, ...array_values($part)];
        }
        $loop = new MemorySource(new StereoBlock($sound, $sound), 44100);
        $key = KeyGuess::of(Chroma::of($loop))?->key;
        self::assertNotNull($key);
        $tone = new MemorySource(new StereoBlock($s = Sounds::sine(261.6256, 66150, 44100, 0.4), $s), 44100);
        foreach ([-5, 3, 7] as $semitones) {
            $edit = new Edit(EditKind::Pitch, null, null, ['cents' => 100.0 * $semitones, 'material' => 'tones']);
            self::assertSame(Key::of($key->tonic + $semitones + 12, $key->minor)->name(), KeyGuess::of(Chroma::of($edit->apply($loop)))?->key->name());
            self::assertEqualsWithDelta(60.0 + $semitones, PitchGuess::of($edit->apply($tone))->note ?? 0.0, 0.02);
        }
    }

    public function testTurnedRoundItHasAsManyHitsOfNoLessLevel(): void
    {
        $back = Heard::in((new Edit(EditKind::Reverse, null, null))->apply(self::$groove));
        self::assertEqualsWithDelta(self::$heard->loudness->integratedLufs, $back->loudness->integratedLufs, 0.1);
        self::assertSame('loop', $back->kind);
    }

    /** @return list<int> */
    private static function places(Heard $heard): array
    {
        return array_map(static fn (Hit $hit): int => $hit->frame, $heard->hits);
    }

    /** @return list<string> */
    private static function kinds(Heard $heard): array
    {
        return array_map(static fn (Hit $hit): string => $hit->kind->value, $heard->hits);
    }

    private static function groove(float $bpm): MemorySource
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, (int) round(4 * 240 / $bpm * 44100), 0.0);
        $sounds = ['k' => $kit->kick(), 'h' => $kit->shaker(), 's' => $kit->snare()];
        foreach (str_split(str_repeat('k.h.s.h.k.hks.h.', 4)) as $step => $letter) {
            foreach (isset($sounds[$letter]) ? $sounds[$letter]->left : [] as $n => $x) {
                $at = (int) round($step * 15 / $bpm * 44100) + $n;
                if (isset($mix[$at])) {
                    $mix[$at] += 0.5 * $x;
                }
            }
        }

        return new MemorySource(new StereoBlock($mix, $mix), 44100);
    }
}
