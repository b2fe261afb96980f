<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** What is played live: drawn to the steps as far as wished, beside what was there or in its place; and erased by holding. */
final class RecordingTest extends TestCase
{
    public function testHitsAreDrawnToTheStepsAsFarAsWished(): void
    {
        self::assertSame([50, 700], self::ticks(['quantise' => 0]));
        self::assertSame([0, 720], self::ticks(['quantise' => 1]));
        self::assertSame([25, 710], self::ticks(['quantise' => 1, 'strength' => 50]));
        self::assertSame([50, 700], self::ticks(['quantise' => 1, 'strength' => 0]));
        // What rounds up to the end goes to the start, and what goes over the end goes on there.
        self::assertSame([0, 240], array_map(static fn (Hit $h): int => $h->tick, self::recorded(self::kit(), [[7679, 'a0', 100], [7680 + 250, 'a0', 90]], ['quantise' => 1])->pattern('p1')->hits));
    }

    public function testWhatWasHeardIsHeardAgainUnderTheFeelOfThePattern(): void
    {
        $beat = RandomBeats::changed(self::kit(), [['type' => 'set-feel', 'patterns' => ['p1'], 'swing' => 62, 'shiftTicks' => 20], ['type' => 'set-feel', 'patterns' => ['p1'], 'lane' => 'a1', 'swing' => 50, 'shiftTicks' => 0]]);
        $after = self::recorded($beat, [[1003, 'a0', 100], [1303, 'a0', 90], [1003, 'a1', 100]], ['quantise' => 0])->pattern('p1');
        foreach ($after->hits as $hit) {
            $heard = $beat->feeling($after->feelOf($hit->pad))->played($hit);
            self::assertEqualsWithDelta(1003 === $hit->tick || $hit->tick < 1100 ? 1003 : 1303, $heard->tick, 1, 'pad '.$hit->pad);
        }
        self::assertSame(1003, $after->hits[1]->tick, 'a lane with a feel of its own is stored by that');
    }

    public function testAPassMayTakeThePlaceOfWhatItsPadsHad(): void
    {
        $beat = RandomBeats::changed(self::kit(), [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 90], [960, 'a0', 90], [480, 'a1', 90]]]]);
        $keys = static fn (Beat $b): array => array_map(static fn (Hit $h): string => $h->key(), $b->pattern('p1')->hits);
        self::assertSame(['0 a0', '240 a0', '480 a1', '960 a0'], $keys(self::recorded($beat, [[240, 'a0', 100]], ['quantise' => 0])));
        self::assertSame(['240 a0', '480 a1'], $keys(self::recorded($beat, [[240, 'a0', 100]], ['quantise' => 0, 'replace' => 1])));
        $keysBeat = self::keys();
        $notes = static fn (array $more): array => array_map(static fn (Note $n): string => $n->key(), Changes::read(['type' => 'edit-notes', 'gesture' => 'record', 'pattern' => 'p2', 'notes' => [[130, 64, 90, 200]]] + $more)->apply($keysBeat)->pattern('p2')->notes);
        self::assertSame(['0 60', '130 64', '480 62'], $notes([]));
        self::assertSame(['0 60', '240 64', '480 62'], $notes(['quantise' => 1]));
        self::assertSame(['130 64'], $notes(['replace' => 1]));
    }

    public function testHoldingErasesWhatIsHeardMeanwhileAlsoOverTheEnd(): void
    {
        $beat = RandomBeats::changed(self::kit(), [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 90], [480, 'a0', 90], [480, 'a1', 90], [7200, 'a0', 90]]]]);
        $keys = static fn (Beat $b, int $from, int $to): array => array_map(static fn (Hit $h): string => $h->key(), Changes::read(['type' => 'erase-held', 'pattern' => 'p1', 'pad' => 'a0', 'from' => $from, 'to' => $to])->apply($b)->pattern('p1')->hits);
        self::assertSame(['0 a0', '480 a1', '7200 a0'], $keys($beat, 400, 500));
        self::assertSame(['480 a0', '480 a1'], $keys($beat, 7000, 7680 + 100));
        // By what is heard, not by what is written.
        $late = RandomBeats::changed($beat, [['type' => 'set-feel', 'patterns' => ['p1'], 'shiftTicks' => 60]]);
        self::assertSame(['0 a0', '480 a1', '7200 a0'], $keys($late, 530, 550));
        self::assertSame(['480 62'], array_map(static fn (Note $n): string => $n->key(), Changes::read(['type' => 'erase-held', 'pattern' => 'p2', 'pitch' => 60, 'from' => 0, 'to' => 900])->apply(self::keys())->pattern('p2')->notes));
        self::assertSame('Erased Low', Changes::read(['type' => 'erase-held', 'pattern' => 'p1', 'pad' => 'a0', 'from' => 0, 'to' => 9])->label($beat));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('Nothing lay there to be erased.');
        $keys($beat, 600, 700);
    }

    public function testReadyPatternsComeInTogetherOrNotAtAll(): void
    {
        $land = static fn (array $rows, array $more = []): array => ['type' => 'land-patterns', 'section' => 's9', 'sectionName' => 'Night', 'patterns' => $rows] + $more;
        $beat = self::keys();
        $both = Changes::read($land([['id' => 'p8', 'name' => 'Hits', 'part' => 'part-1', 'ticks' => 3840, 'hits' => [[0, 'a0', 90]]], ['id' => 'p9', 'name' => 'Notes', 'part' => 'part-2', 'ticks' => 7680, 'notes' => [[0, 60, 90, 240]], 'feel' => ['swing' => 58]]], ['bpm' => 101.5, 'meter' => '3/4']))->apply($beat);
        self::assertSame([['part-1' => 'p8', 'part-2' => 'p9'], 'Night', 101.5, '3/4', 58.0], [$both->section('s9')->patterns, $both->section('s9')->name, $both->tempo->bpm, $both->meter->name(), $both->pattern('p9')->feel->swing]);
        self::assertSame('s9', array_reverse(array_values($both->song))[0]->section);
        foreach ([
            'plays hits, not notes' => [['id' => 'p8', 'name' => 'X', 'part' => 'part-1', 'ticks' => 3840, 'notes' => [[0, 60, 90]]]],
            'plays notes, not hits' => [['id' => 'p8', 'name' => 'X', 'part' => 'part-2', 'ticks' => 3840, 'hits' => [[0, 'a0', 90]]]],
            'in the beat already' => [['id' => 'p1', 'name' => 'X', 'part' => 'part-1', 'ticks' => 3840, 'hits' => [[0, 'a0', 90]]]],
            'holds no sound' => [['id' => 'p8', 'name' => 'X', 'part' => 'part-1', 'ticks' => 3840, 'hits' => [[0, 'a9', 90]]]],
            'ticks must be' => [['id' => 'p8', 'name' => 'X', 'part' => 'part-1', 'ticks' => 0, 'hits' => [[0, 'a0', 90]]]],
            'at least one pattern' => [],
        ] as $message => $rows) {
            try {
                Changes::read($land($rows))->apply($beat);
                self::fail('This should be refused: '.$message);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($message, $e->getMessage());
            }
        }
    }

    /**
     * @param array<string, int> $more
     *
     * @return list<int>
     */
    private static function ticks(array $more): array
    {
        return array_map(static fn (Hit $h): int => $h->tick, self::recorded(self::kit(), [[50, 'a0', 100], [700, 'a0', 90]], $more)->pattern('p1')->hits);
    }

    /**
     * @param list<array{int, string, int}> $hits
     * @param array<string, int>            $more
     */
    private static function recorded(Beat $beat, array $hits, array $more): Beat
    {
        return Changes::read(['type' => 'record-hits', 'pattern' => 'p1', 'hits' => $hits] + $more)->apply($beat);
    }

    private static function kit(): Beat
    {
        $fill = static fn (string $pad, string $name): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('a', 64), 'name' => $name, 'role' => 'kick', 'start' => 0, 'end' => 900];

        return RandomBeats::changed(Beat::empty('Played'), [$fill('a0', 'Low'), $fill('a1', 'High')]);
    }

    private static function keys(): Beat
    {
        return RandomBeats::changed(self::kit(), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => str_repeat('a', 64), 'start' => 0, 'end' => 900, 'rootCents' => 6000, 'section' => 's1'],
            ['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => [[0, 60, 90, 240], [480, 62, 90, 240]]],
        ]);
    }
}
