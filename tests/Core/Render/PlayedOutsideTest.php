<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Render\PlayedOutside;
use PHPUnit\Framework\TestCase;

/** What a box outside is to play is what the part plays. */
final class PlayedOutsideTest extends TestCase
{
    private const NOTES = [[0, 48, 100, 480, 100], [960, 50, 80, 240, 100], [2400, 55, 127, 960, 100]];

    public function testNotesOfEachPassInSeconds(): void
    {
        $played = PlayedOutside::in(self::beat(), 'e1', 'part-2');
        // Two bars at 120 lie before it, then come two passes of as many.
        self::assertSame([7680, 8.0, 'c1'], [$played->at, $played->seconds, $played->channel]);
        $first = [[0.0, 48, 100, 0.25, 0.0, 480.0], [0.5, 50, 80, 0.125, 960.0, 240.0], [1.25, 55, 127, 0.5, 2400.0, 960.0]];
        self::assertEquals([...$first, ...array_map(static fn (array $n): array => [$n[0] + 4.0, $n[1], $n[2], $n[3], $n[4] + 7680.0, $n[5]], $first)], $played->notes);
    }

    public function testItIsWhatAMidiFileOfItSays(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'set-feel', 'patterns' => ['p3'], 'swing' => 62, 'humanTime' => 8, 'humanStrength' => 20]]);
        $file = MidiFile::read(MidiWriter::of($beat), 'outside.mid')->tracks[0]['notes'];
        $played = PlayedOutside::in($beat, 'e1', 'part-2')->notes;
        self::assertSameSize($file, $played);
        foreach ($file as $i => $note) {
            self::assertSame([$note->pitch, $note->velocity], [$played[$i][1], $played[$i][2]]);
            self::assertEqualsWithDelta(max(0.0, ($note->tick - 7680) / 1920), $played[$i][0], 0.0006);
        }
    }

    public function testWhereItPlaysNothingIsTold(): void
    {
        foreach ([['e2', 'part-1', 'is a kit'], ['e2', 'part-2', 'plays nothing in Opening'], ['e9', 'part-2', ''], ['e1', 'part-9', '']] as [$entry, $part, $says]) {
            try {
                PlayedOutside::in(self::beat(), $entry, $part);
                self::fail($part.' played in '.$entry);
            } catch (InvalidChange|\OutOfBoundsException $e) {
                self::assertStringContainsString($says, $e->getMessage());
            }
        }
        $beat = self::beat();
        $muted = $beat->withEntry($beat->entry('e1')->with(['muted' => ['part-2']]));
        $this->expectExceptionMessage('or is silent or fixed there');
        PlayedOutside::in($muted, 'e1', 'part-2');
    }

    private static function beat(): Beat
    {
        return RandomBeats::changed(Beat::empty('Outside'), [
            ['type' => 'set-tempo', 'bpm' => 120],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Opening', 'copyOf' => 's1'],
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => str_repeat('a', 64), 'start' => 0, 'end' => 44_100, 'rootCents' => 6000, 'section' => 's1'],
            ['type' => 'edit-notes', 'gesture' => 'place', 'pattern' => 'p3', 'notes' => self::NOTES],
            ['type' => 'set-section', 'section' => 's2', 'field' => 'bars', 'bars' => 2],
            ['type' => 'set-song', 'sections' => ['s2', 's1']],
            ['type' => 'set', 'song/e1/repeats' => 2],
        ]);
    }
}
