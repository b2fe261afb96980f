<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** A section that comes several times in the song: each coming has repeats and mutes of its own. */
final class EntriesTest extends TestCase
{
    public function testEachComingHasItsOwnRepeatsAndMutes(): void
    {
        $beat = self::beat([['type' => 'set-song', 'sections' => ['s1', 's2', 's1']], ['type' => 'set', 'song/e3/repeats' => 3], ['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'entry' => 'e3', 'mute' => 1]]);
        self::assertSame([['e1', 's1', 1, []], ['e2', 's2', 1, []], ['e3', 's1', 3, ['part-1']]], self::song($beat));
        self::assertSame([], $beat->section('s1')->muted);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        self::assertSame('Mute Kit in Section 1, this time', Changes::read(['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'entry' => 'e3', 'mute' => 1])->label($beat));
        // Silent, it lasts as long as it did.
        $passage = Passage::of($beat, 's1', false, $beat->entry('e3')->muted);
        self::assertSame([3840, []], [$passage->ticks, $passage->patterns]);
        $notes = array_map(static fn (string $track): int => substr_count($track, "\x99"), explode('MTrk', MidiWriter::of($beat)));
        self::assertSame(2, array_sum($notes), 'one hit in each coming that is not muted');
    }

    /** Whatever order they are put in, repeats and mutes stay with their coming. */
    public function testAnotherOrderTakesWhatIsSaidOfEachAlong(): void
    {
        $beat = self::beat([['type' => 'set-song', 'sections' => ['s1', 's2', 's1']], ['type' => 'set', 'song/e3/repeats' => 3]]);
        $moved = self::changed($beat, ['type' => 'set-song', 'entries' => [['e3', 's1'], ['e9', 's2'], ['e1', 's1'], ['e2', 's2']]]);
        self::assertSame([['e3', 's1', 3, []], ['e9', 's2', 1, []], ['e1', 's1', 1, []], ['e2', 's2', 1, []]], self::song($moved));
        // By sections alone the first of them in the song is taken first; what is one too many goes.
        $named = self::changed($moved, ['type' => 'set-song', 'sections' => ['s2', 's1', 's1', 's1']]);
        self::assertSame([['e9', 's2', 1, []], ['e3', 's1', 3, []], ['e1', 's1', 1, []], ['e4', 's1', 1, []]], self::song($named));
        $gone = self::changed($named, ['type' => 'remove-section', 'section' => 's1']);
        self::assertSame([['e9', 's2', 1, []]], self::song($gone));
        $copied = self::changed($named, ['type' => 'add-section', 'id' => 's7', 'name' => 'Behind', 'copyOf' => 's2', 'after' => 1]);
        self::assertSame(['e9', 'e2', 'e3', 'e1', 'e4'], array_keys($copied->song));
    }

    public function testWhatDoesNotFitIsRefusedByName(): void
    {
        $beat = self::beat([]);
        foreach ([
            [['type' => 'set-song', 'entries' => [['e1', 's2']]], 'entries holds e1, which is a coming of another section'],
            [['type' => 'set-song', 'entries' => [['e1', 's1'], ['e1', 's1']]], 'entries must name each entry once.'],
            [['type' => 'set-song', 'entries' => [['e1', 's8']]], 'This section is no longer in the beat.'],
            [['type' => 'set-cell', 'section' => 's1', 'part' => 'part-1', 'entry' => 'e8', 'mute' => 1], 'This coming of a section is no longer in the song.'],
            [['type' => 'set', 'song/e1/repeats' => 65], 'song/e1/repeats'],
        ] as [$change, $words]) {
            try {
                self::changed($beat, $change);
                self::fail('It was taken: '.json_encode($change));
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
    }

    /** @return list<array{string, string, int, list<string>}> */
    private static function song(Beat $beat): array
    {
        return array_values(array_map(static fn (Entry $e): array => [$e->id, $e->section, $e->repeats, $e->muted], $beat->song));
    }

    /** @param array<string, mixed> $change */
    private static function changed(Beat $beat, array $change): Beat
    {
        return RandomBeats::changed($beat, [$change]);
    }

    /** @param list<array<string, mixed>> $changes */
    private static function beat(array $changes): Beat
    {
        return RandomBeats::changed(Beat::empty('Comings'), [
            ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Other', 'copyOf' => 's1', 'linked' => 1],
            ...$changes,
        ]);
    }
}
