<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Sample\Counted;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Sample\StretchMap;
use Pestle\Core\Sample\TempoMark;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Recordings that keep time with the beat, even when they were played freely. */
final class InTimeTest extends TestCase
{
    private const SAMPLE = 'bb112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';

    public function testPlacesComeToLieEvenlyAndBackAgain(): void
    {
        $map = StretchMap::inTime([[1000, 0.0], [11000, 1.0], [23000, 2.0], [32000, 3.0]], 40000, 10000.0);
        self::assertEqualsWithDelta([0.0, 1000.0, 11000.0, 21000.0, 31000.0], array_map($map->forward(...), [0.0, 1000.0, 11000.0, 23000.0, 32000.0]), 1e-6);
        self::assertSame((int) round(31000 + 8000 * 10 / 9), $map->length());
        for ($frame = 0.0; $frame <= 40000.0; $frame += 777.0) {
            self::assertEqualsWithDelta($frame, $map->back($map->forward($frame)), 1e-6);
        }
        self::assertTrue(StretchMap::by(1.0, 500)->keepsLength());
        self::assertFalse($map->keepsLength());
        // Never faster or slower than stretching allows.
        self::assertSame(400, StretchMap::inTime([[0, 0.0], [100, 1.0]], 100, 5000.0)->length());
        $this->expectException(\InvalidArgumentException::class);
        StretchMap::inTime([[0, 0.0]], 100, 50.0);
    }

    /** Drums whose tempo glides from 80 to 110: each hit within 5 ms of where it belongs. */
    public function testADriftingRecordingIsPlayedInTime(): void
    {
        [$drums, $hits] = self::drifting();
        $grid = new BeatGrid([new TempoMark(0, $hits[0] / 44100), ...array_map(static fn (int $i): TempoMark => new TempoMark($i, $hits[$i] / 44100, true), range(1, \count($hits) - 1))], 110.0);
        $fit = Fit::follow($grid->lines($drums->frames(), 44100), new Counted(null, $drums->frames(), 44100), 92.0, $drums->frames());
        self::assertStringStartsWith('Every beat on the beat at 92 BPM', $fit->words);
        $edits = new Edits($fit->edits);
        $straight = $edits->apply($drums);
        self::assertSame($edits->length($drums->frames()), $straight->frames());
        $found = Onsets::find($straight, 0.4, 0.05);
        self::assertCount(\count($hits), $found);
        foreach ($found as $i => $frame) {
            self::assertEqualsWithDelta($found[0] + $i * 60 / 92 * 44100, $frame, 0.005 * 44100);
        }
        // Half the tempo of the beat: two of its beats for each of the recording's.
        $slow = new Edits(Fit::follow($grid->lines($drums->frames(), 44100), new Counted(null, $drums->frames(), 44100), 180.0, $drums->frames())->edits);
        self::assertEqualsWithDelta(2 * 60 / 180 * 44100, $slow->fromSource($hits[5], $drums->frames()) - $slow->fromSource($hits[4], $drums->frames()), 100);
    }

    public function testItFollowsWhenTheTempoChanges(): void
    {
        $frames = 4 * 44100;
        $fit = Fit::follow(BeatGrid::even(120.0, 0.0)->lines($frames, 44100), new Counted(120.0, $frames, 44100, 2), 120.0, $frames);
        $beat = RandomBeats::changed(Beat::empty('Follows'), [
            ['type' => 'set-tempo', 'bpm' => 100],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::SAMPLE, 'name' => 'Loop', 'role' => 'tonal', 'start' => 44100, 'end' => 88200],
            ['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => [0, 44100, 88200]],
            ['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => $frames, 'edits' => array_map(static fn ($e): array => $e->toArray(), $fit->edits)],
        ]);
        // Two bars at 100 BPM at once, though the page was made at 120.
        self::assertSame((int) round(8 * 0.6 * 44100), $beat->edits[self::SAMPLE]->length($frames));
        self::assertSame('Follows the tempo, 100 BPM', $beat->edits[self::SAMPLE]->list[0]->title());
        $slower = RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 80]]);
        self::assertSame(6 * 44100, $slower->edits[self::SAMPLE]->length($frames));
        self::assertSame([66150, 132300], [$slower->pad('a0')->main()->start, $slower->pad('a0')->main()->end]);
        self::assertSame([0, 66150, 132300], $slower->slices[self::SAMPLE]->markers);
        self::assertStringContainsString('"bpm":80.0', $slower->sound(self::SAMPLE));
        self::assertEquals($slower, BeatCodec::decode(BeatCodec::encode($slower)));
        self::assertSame(BeatCodec::encode($beat), BeatCodec::encode(RandomBeats::changed($slower, [['type' => 'set-tempo', 'bpm' => 100]])));
    }

    public function testALongRecordingThatDriftsAllTheTimeKeepsToWhatAnEditHolds(): void
    {
        $lines = [];
        for ($frame = 0.0, $beat = 0; $beat < 6000; ++$beat) {
            $lines[$beat] = (int) $frame;
            $frame += 26000 + 3000 * sin($beat / 3.0);
        }
        $fit = Fit::follow($lines, new Counted(null, (int) $frame, 44100), 100.0, (int) $frame);
        $places = (string) $fit->edits[0]->settings['places'];
        self::assertLessThanOrEqual(2 * Fit::MOST_PLACES, \count(explode(' ', $places)));
        $read = Changes::read(['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => (int) $frame, 'edits' => [$fit->edits[0]->toArray()]]);
        self::assertSame('Follows the tempo, 100 BPM', $read->label(Beat::empty('Long')));
        // From one end to the other it still keeps time.
        self::assertEqualsWithDelta(5999 * 0.6 * 44100, (new Edits($fit->edits))->fromSource($lines[5999], (int) $frame), 2000);
    }

    public function testPlacesAreChecked(): void
    {
        $edit = ['kind' => 'in-time', 'bpm' => 90, 'follow' => 1, 'frames' => 5000, 'rate' => 44100];
        foreach (['0 0', '0 0 100', '0 0 100 1 50 2', '0 0 100 0', 'a b c d', '0 0 100 1 '.str_repeat('9', 13000)] as $places) {
            try {
                Changes::read(['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => 5000, 'edits' => [[...$edit, 'places' => $places]]]);
                self::fail("\"$places\" was taken.");
            } catch (InvalidChange $e) {
                self::assertStringStartsWith('places must be', $e->getMessage());
            }
        }
        $this->expectExceptionMessage('for the whole recording');
        Changes::read(['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => 5000, 'edits' => [[...$edit, 'places' => '0 0 100 1', 'from' => 5]]]);
    }

    public function testAnotherLoopIsMadeAsLong(): void
    {
        $length = static fn (Fit $fit, int $frames): int => (new Edits($fit->edits))->length($frames);
        // Two bars at 100 BPM in place of four at 80: stretched and repeated.
        $two = Fit::inPlace(new Counted(100.0, (int) (4.8 * 44100), 44100, 2), 80.0, 12.0);
        self::assertSame(12 * 44100, $length($two, (int) (4.8 * 44100)));
        self::assertStringContainsString('repeated', $two->words);
        // Eight bars in place of four: cut; at another rate, and a length that is no whole bar.
        $eight = Fit::inPlace(new Counted(90.0, (int) round(8 * 240 / 90 * 48000), 48000, 8), 80.0, 11.9);
        self::assertSame((int) round(11.9 * 48000), $length($eight, (int) round(8 * 240 / 90 * 48000)));
        self::assertStringContainsString('cut to length', $eight->words);
        // Without a tempo it is stretched, as far as that goes.
        self::assertSame(66150, $length(Fit::inPlace(new Counted(null, 44100, 44100), 80.0, 1.5), 44100));
        self::assertNotNull(Fit::inPlace(new Counted(null, 44100, 44100), 80.0, 9.0)->snag);
    }

    /** @return array{MemorySource, list<int>} */
    private static function drifting(): array
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, 14 * 44100, 0.0);
        $hits = [];
        for ($seconds = 0.2, $i = 0; $i < 18; ++$i) {
            $hits[] = $at = (int) round($seconds * 44100);
            foreach ((0 === $i % 2 ? $kit->kick() : $kit->snare())->left as $n => $x) {
                $mix[$at + $n] = ($mix[$at + $n] ?? 0.0) + 0.6 * $x;
            }
            $seconds += 60 / (80 + 30 * $i / 17);
        }

        $mix = array_values($mix);

        return [new MemorySource(new StereoBlock($mix, $mix), 44100), $hits];
    }
}
