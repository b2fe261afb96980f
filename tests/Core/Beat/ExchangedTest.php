<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Exchanged;
use Pestle\Core\Pattern\Note;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** A kit for an instrument and the reverse: all hits and notes are there afterwards, as loud, and come back as they were; what becomes of each is told before. */
final class ExchangedTest extends TestCase
{
    public function testAKitComesForAnInstrumentAndBack(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(11));
        for ($seed = 0; $seed < 30; ++$seed) {
            $notes = [];
            for ($n = 0; $n < 40; ++$n) {
                $note = new Note(120 * $chance->getInt(0, 60), $chance->getInt(0, 127), $chance->getInt(1, 127), $chance->getInt(1, 900), $chance->getInt(1, 100), $chance->getInt(0, 200));
                $notes[$note->key()] = $note;
            }
            $beat = self::beat();
            $pattern = $beat->section('s1')->patterns['part-2'];
            $beat = $beat->withPattern($beat->pattern($pattern)->withNotes(array_values($notes)));
            $onKit = RandomBeats::changed($beat, [['type' => 'exchange-kit', 'part' => 'part-2', 'from' => 'part-1']]);
            self::assertTrue($onKit->part('part-2')->isKit());
            self::assertSame([], $onKit->pattern($pattern)->notes);
            self::assertCount(\count($notes), $onKit->pattern($pattern)->hits);
            self::assertEquals($onKit, BeatCodec::decode(BeatCodec::encode($onKit)));
            $back = RandomBeats::changed($onKit, [['type' => 'exchange-kit', 'part' => 'part-2', 'from' => 'part-3']]);
            self::assertEquals($beat->pattern($pattern), $back->pattern($pattern));
            self::assertCount(1, $back->kit->banks);
            self::assertEquals($back, BeatCodec::decode(BeatCodec::encode($back)));
            $told = Exchanged::told($beat, 'part-2', 'part-1');
            self::assertSame(\count($notes), array_sum(array_column($told, 'count')));
            foreach ($told as $row) {
                self::assertSame(null !== $onKit->kit->pad((string) $row->on), $row->sounds);
                self::assertCount($row->count, array_filter($onKit->pattern($pattern)->hits, static fn ($hit): bool => $hit->pad === $row->on));
            }
        }
    }

    /** A roll becomes as many notes; a second kit's lanes are told where they go; what is out of an instrument's reach is told to be silent. */
    public function testWhatBecomesOfEachIsTold(): void
    {
        $beat = RandomBeats::changed(self::beat(), [
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [480, 'a1', 90, 240, 100, 0, 0, '', 3], [960, 'a0', 80]]],
            ['type' => 'add-part', 'id' => 'part-4', 'name' => 'Other'], self::fill('b3', 'snare'),
            ['type' => 'set', 'under' => 'part/part-3', 'low' => 37],
        ]);
        $row = static fn (Exchanged $e): array => [$e->was, $e->called, $e->count, $e->on, $e->becomes, $e->sounds];
        self::assertSame([['a0', 'kick a0', 2, 'a0', '', false], ['a1', 'snare a1', 1, 'a3', 'snare b3', true]], array_map($row, Exchanged::told($beat, 'part-1', 'part-4')));
        self::assertSame([['a0', 'kick a0', 2, 36, '', false], ['a1', 'snare a1', 1, 37, '', true]], array_map($row, Exchanged::told($beat, 'part-1', 'part-3')));
        $onKeys = RandomBeats::changed($beat, [['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-3']]);
        $notes = $onKeys->pattern('p1')->notes;
        self::assertSame([[0, 36], [480, 37], [560, 37], [640, 37], [960, 36]], array_map(static fn (Note $n): array => [$n->tick, $n->pitch], $notes));
        self::assertSame([100, 90, 90, 90, 80], array_column($notes, 'velocity'));
        // An instrument for an instrument: the notes stay, through the same channel.
        $channel = $beat->part('part-2')->keys->channel ?? '';
        $other = RandomBeats::changed($beat, [['type' => 'exchange-kit', 'part' => 'part-2', 'from' => 'part-3']]);
        self::assertSame([37, $channel], [$other->part('part-2')->keys?->low, $other->part('part-2')->keys?->channel]);
    }

    private static function beat(): Beat
    {
        return RandomBeats::changed(Beat::empty('Exchange'), [
            self::fill('a0', 'kick'), self::fill('a1', 'snare'),
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Line', 'shelf' => 'night-tram', 'section' => 's1'],
            ['type' => 'add-part', 'id' => 'part-3', 'name' => 'Bed', 'shelf' => 'dawn-market', 'section' => 's1'],
        ]);
    }

    /** @return array<string, mixed> */
    private static function fill(string $pad, string $role): array
    {
        return ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('c', 64), 'name' => $role.' '.$pad, 'role' => $role, 'start' => 0, 'end' => 4000];
    }
}
