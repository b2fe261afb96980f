<?php

namespace Pestle\Tests\Core\Pattern;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\LaneShape;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\NoteShape;
use Pestle\Core\Theory\Chord;
use Pestle\Core\Theory\Key;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** What can be done to a lane or to several notes at once. */
final class ShapesTest extends TestCase
{
    public function testLanesAreFilledTurnedAndMoved(): void
    {
        $ticks = self::ticks(...);
        $of = self::lane(...);
        self::assertSame([0, 480], $ticks($of(LaneShape::Fill, [17], 2)));
        self::assertSame([0, 720], $ticks($of(LaneShape::Earlier, [240, 0])));
        self::assertSame([0, 250], $ticks($of(LaneShape::Later, [720, 10])));
        self::assertSame([0, 250, 720], $ticks($of(LaneShape::Reverse, [0, 490, 720])), 'within its step a hit lies as it did');
        self::assertSame([0, 250, 490, 720], $ticks($of(LaneShape::Mirror, [0, 250, 730])));
        self::assertSame([], $of(LaneShape::Clear, [0, 240]));
        self::assertSame([114, 78, 114], array_map(static fn (Hit $h): int => $h->velocity, $of(LaneShape::Accents, [0, 240, 480], 2)));
        $random = array_map(static fn (int $i): int => ($i * 77) % 960, range(1, 9));
        self::assertSame(self::sorted($random), $ticks($of(LaneShape::Later, $ticks($of(LaneShape::Earlier, $random)))));
        self::assertSame(self::sorted($random), $ticks($of(LaneShape::Reverse, $ticks($of(LaneShape::Reverse, $random)))));
    }

    public function testALaneIsLaidOnAnotherSoundAndGoesRoundInItsOwnLength(): void
    {
        $beat = self::kit();
        $lane = ['type' => 'shape-lane', 'pattern' => 'p1', 'lane' => 'a0'];
        $beat = RandomBeats::changed($beat, [['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a0', 'ticks' => 720], [...$lane, 'how' => 'fill', 'step' => 240, 'every' => 2, 'velocity' => 80], [...$lane, 'to' => 'a1']]);
        self::assertSame(['0 a0', '0 a1', '480 a0', '480 a1'], array_map(static fn (Hit $h): string => $h->key(), $beat->pattern('p1')->hits));
        self::assertSame('Fill Low', Changes::read([...$lane, 'how' => 'fill'])->label($beat));
        self::assertSame('Hits of Low on High as well', Changes::read([...$lane, 'to' => 'a1'])->label($beat));
        self::assertSame(['0 a1', '480 a1'], array_map(static fn (Hit $h): string => $h->key(), RandomBeats::changed($beat, [[...$lane, 'how' => 'clear']])->pattern('p1')->hits));
        $half = RandomBeats::changed($beat, [['type' => 'reshape-pattern', 'pattern' => 'p1', 'how' => 'halve']]);
        self::assertSame($beat->pattern('p1')->ticks / 2, $half->pattern('p1')->ticks);
        $this->expectException(InvalidChange::class);
        Changes::read([...$lane, 'lane' => 'a9', 'how' => 'clear'])->apply($beat);
    }

    public function testNotesAreSplitJoinedRepeatedStrummedAndTurned(): void
    {
        $rows = self::rows(...);
        $split = NoteShape::Split->of([new Note(100, 60, 90, 500)], 240, 3840);
        \assert([] !== $split);
        self::assertSame([[100, 60, 240], [340, 60, 240], [580, 60, 20]], $rows($split));
        self::assertSame([[100, 60, 500]], $rows(NoteShape::Join->of($split, 240, 3840)), 'and joined again');
        $chord = [new Note(0, 60, 60, 480), new Note(0, 64, 80, 480), new Note(480, 67, 100, 240)];
        self::assertSame([[0, 67], [0, 63], [480, 60]], array_map(static fn (Note $n): array => [$n->tick, $n->pitch], NoteShape::Invert->of($chord, 240, 3840)));
        self::assertSame([[0, 60, 480], [30, 64, 450], [480, 67, 240]], $rows(NoteShape::Strum->of($chord, 30, 3840)));
        self::assertSame([[0, 64, 480], [30, 60, 450], [480, 67, 240]], $rows(NoteShape::Strum->of($chord, -30, 3840)));
        self::assertSame([[0, 60, 480], [0, 64, 480], [480, 67, 3360]], $rows(NoteShape::Legato->of($chord, 240, 3840)));
        self::assertSame([[240, 60, 480], [240, 64, 480], [0, 67, 240]], $rows(NoteShape::Reverse->of($chord, 240, 3840)));
        self::assertSame([[0, 60, 480], [0, 64, 480], [480, 67, 240], [720, 60, 480], [720, 64, 480]], $rows(NoteShape::Repeat->of($chord, 240, 1200)), 'not beyond the pattern');
        $velocities = static fn (NoteShape $how): array => array_column($how->of($chord, 240, 3840), 'velocity');
        self::assertSame([[68, 88, 108], [52, 72, 92], [54, 80, 106], [66, 80, 94], [60, 60, 100]], array_map($velocities, [NoteShape::Louder, NoteShape::Softer, NoteShape::Spread, NoteShape::Even, NoteShape::Rise]));
    }

    public function testChordsByNameAndFromTheKey(): void
    {
        self::assertSame([62, 65, 69], Chord::inScale(62, Key::named('D minor')->scale()));
        self::assertSame([69, 72, 76, 79], Chord::inScale(69, Key::named('D minor')->scale(), 4));
        self::assertSame([61], Chord::inScale(61, Key::named('D minor')->scale()), 'no note of the scale');
        foreach (Chord::cases() as $chord) {
            $sorted = self::sorted($chord->semitones());
            self::assertSame([$sorted, 0], [$chord->semitones(), $sorted[0]], $chord->value);
        }
        $beat = RandomBeats::changed(Beat::empty('Keys'), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => str_repeat('a', 64), 'start' => 0, 'end' => 900, 'rootCents' => 6000, 'section' => 's1'],
            ['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => [[0, 62, 90, 480], [960, 64, 90, 480]]],
            ['type' => 'set-key', 'key' => 'D minor'],
        ]);
        $on = static fn (array $fields): array => array_map(static fn (Note $n): string => $n->key(), Changes::read(['type' => 'shape-notes', 'pattern' => 'p2', 'chord' => $fields['chord'] ?? '', 'how' => $fields['how'] ?? '', 'notes' => $fields['notes'] ?? []])->apply($beat)->pattern('p2')->notes);
        self::assertSame(['0 62', '0 65', '0 69', '960 64'], $on(['chord' => 'key', 'notes' => [[0, 62]]]));
        self::assertSame(['0 62', '0 66', '0 69', '0 73', '960 64', '960 68', '960 71', '960 75'], $on(['chord' => 'maj7']));
        self::assertSame('Strum a note', Changes::read(['type' => 'shape-notes', 'pattern' => 'p2', 'how' => 'strum', 'notes' => [[0, 62]]])->label($beat));
        foreach ([['chord' => 'moon'], ['how' => 'dance'], ['how' => 'split', 'notes' => [[5, 5]]]] as $wrong) {
            try {
                $on($wrong);
                self::fail('This should be refused.');
            } catch (InvalidChange $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
    }

    /**
     * @param list<int> $at
     *
     * @return list<Hit>
     */
    private static function lane(LaneShape $how, array $at, int $every = 1): array
    {
        return $how->of('a0', array_map(static fn (int $t): Hit => new Hit($t, 'a0', 90), $at), 960, 240, $every, 100);
    }

    /**
     * @param list<Hit> $hits
     *
     * @return list<int>
     */
    private static function ticks(array $hits): array
    {
        return self::sorted(array_map(static fn (Hit $h): int => $h->tick, $hits));
    }

    /**
     * @param list<Note> $notes
     *
     * @return list<array{int, int, int}>
     */
    private static function rows(array $notes): array
    {
        return array_map(static fn (Note $n): array => [$n->tick, $n->pitch, $n->length], $notes);
    }

    private static function kit(): Beat
    {
        $fill = static fn (string $pad, string $name): array => ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('a', 64), 'name' => $name, 'role' => 'kick', 'start' => 0, 'end' => 900];

        return RandomBeats::changed(Beat::empty('Lanes'), [$fill('a0', 'Low'), $fill('a1', 'High')]);
    }

    /**
     * @param array<int> $numbers
     *
     * @return list<int>
     */
    private static function sorted(array $numbers): array
    {
        sort($numbers);

        return $numbers;
    }
}
