<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\WrittenBeat;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Song\Entry;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A description becomes the beat it describes; what cannot be is told with its place. */
final class WrittenBeatTest extends TestCase
{
    private const WRITTEN = [
        'name' => 'Night boat', 'bpm' => 92, 'key' => 'D minor', 'meter' => '3/4',
        'pads' => ['a0' => 'kicks/Low one.wav', 'a1' => ['sample' => 'snare.wav', 'name' => 'Rim', 'role' => 'snare', 'levelDb' => -3]],
        'instruments' => [['name' => 'Bass', 'sound' => 'night-tram'], ['name' => 'Jar', 'sample' => 'jar.wav', 'root' => 'D2', 'levelDb' => -6], ['name' => 'Bowl', 'sample' => 'jar.wav']],
        'patterns' => [
            ['name' => 'A', 'bars' => 1, 'swing' => 58, 'steps' => ['a0' => 'x--- | o--9', 'a1' => '....X']],
            ['name' => 'A', 'part' => 'Bass', 'bars' => 2, 'notes' => [[0, 'D2', 1.5], [2.5, 'Bb1', 1, 80], [4, 48, 0.25]]],
        ],
        'sections' => [['name' => 'Verse', 'patterns' => ['kit' => 'A']], ['name' => 'Chorus', 'patterns' => ['kit' => 'A', 'Bass' => 'A']]],
        'song' => ['Verse', 'Chorus x2', 'Verse'],
        'set' => ['mixer/c1/gainDb' => -2],
    ];

    public function testADescriptionBecomesTheBeat(): void
    {
        $beat = self::made(self::WRITTEN);
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        self::assertSame(['Night boat', 92.0, 'D minor', '3/4'], [$beat->name, $beat->tempo->bpm, $beat->key?->name(), $beat->meter->name()]);
        self::assertSame([['Low one', 'kick'], ['Rim', 'snare', -3.0]], [[$beat->pad('a0')->name, $beat->pad('a0')->role->value], [$beat->pad('a1')->name, $beat->pad('a1')->role->value, $beat->pad('a1')->levelDb]]);
        self::assertSame(['Kit', 'Bass', 'Jar', 'Bowl'], array_column(array_values($beat->parts), 'name'));
        [$jar, $bowl] = [$beat->part('part-3')->keys, $beat->part('part-4')->keys];
        self::assertSame([3800, -6.0, 4550], [$jar?->zones[0]->rootCents, $jar?->levelDb, $bowl?->zones[0]->rootCents]);
        self::assertSame(['Verse', 'Chorus'], array_column(array_values($beat->sections), 'name'));
        $patterns = $beat->section('s2')->patterns;
        self::assertEquals([new Hit(0, 'a0', 100), new Hit(960, 'a0', 60), new Hit(960, 'a1', 127), new Hit(1680, 'a0', 127)], $beat->pattern($patterns['part-1'])->hits);
        self::assertEquals([new Note(0, 38, 100, 1440), new Note(2400, 34, 80, 960), new Note(3840, 48, 100, 240)], $beat->pattern($patterns['part-2'])->notes);
        self::assertSame([2880, 58.0, 5760], [$beat->pattern($patterns['part-1'])->ticks, $beat->pattern($patterns['part-1'])->feel->swing, $beat->pattern($patterns['part-2'])->ticks]);
        self::assertSame([['s1', 1], ['s2', 2], ['s1', 1]], array_map(static fn (Entry $e): array => [$e->section, $e->repeats], array_values($beat->song)));
        self::assertSame(['part-1'], array_keys($beat->section('s1')->patterns));
        self::assertSame(-2.0, $beat->mixer->nodes['c1']->gainDb);
        self::assertCount(2, $beat->patterns);
        $plain = self::made(['name' => 'Bare', 'sections' => [['name' => 'One'], ['name' => 'Two']]]);
        self::assertSame([['s1', 1], ['s2', 1]], array_map(static fn (Entry $e): array => [$e->section, $e->repeats], array_values($plain->song)), 'each once');
        self::assertEquals(Beat::empty('Bare'), self::made(['name' => 'Bare']));
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function wrongs(): iterable
    {
        yield 'no name' => [['name' => ''], 'name'];
        yield 'a field of its own' => [['tempo' => 90], 'tempo is nothing that a beat has'];
        yield 'a field of a pattern' => [['patterns' => [['name' => 'A', 'hits' => []]]], 'hits is nothing that patterns, number 1 has'];
        yield 'a tempo' => [['bpm' => 9000], 'bpm: bpm must be'];
        yield 'a key' => [['key' => 'H minor'], 'key: "H minor" is not a key'];
        yield 'a file' => [['pads' => ['a0' => 'gone.wav']], 'pads, a0: gone.wav is not there'];
        yield 'a place' => [['pads' => ['a99' => 'kick.wav']], 'pads, a99: '];
        yield 'a setting' => [['pads' => ['a0' => ['sample' => 'kick.wav', 'levelDb' => 99]]], 'pads, a0: '];
        yield 'a sound' => [['instruments' => [['name' => 'Bass', 'sound' => 'trombone']]], 'instruments, number 1: shelf must be a sound of the shelf'];
        yield 'a step' => [['pads' => ['a0' => 'kick.wav'], 'patterns' => [['name' => 'A', 'steps' => ['a0' => 'x--z']]]], 'patterns, number 1, a0: "z" is no step'];
        yield 'an empty pad' => [['pads' => ['a0' => 'kick.wav'], 'patterns' => [['name' => 'A', 'steps' => ['a3' => 'x']]]], 'patterns, number 1, a3: '];
        yield 'a note' => [['instruments' => self::WRITTEN['instruments'], 'patterns' => [['name' => 'A', 'part' => 'Bass', 'notes' => [[0, 'H2', 1]]]]], 'patterns, number 1: "H2" is no pitch'];
        yield 'half a note' => [['instruments' => self::WRITTEN['instruments'], 'patterns' => [['name' => 'A', 'part' => 'Bass', 'notes' => [[0, 'D2']]]]], 'a note is [quarter, pitch, quarters]'];
        yield 'a part' => [['patterns' => [['name' => 'A', 'part' => 'Flute']]], 'patterns, number 1: there is no part named "Flute"'];
        yield 'a pattern' => [['sections' => [['name' => 'Verse', 'patterns' => ['kit' => 'Z']]]], 'sections, number 1: kit has no pattern named "Z"'];
        yield 'a section' => [['song' => ['Bridge x2']], 'song, number 1: there is no section named "Bridge"'];
        yield 'a path' => [['set' => ['mixer/c1/gain' => 1]], 'set: '];
    }

    /** @param array<string, mixed> $written */
    #[DataProvider('wrongs')]
    public function testWhatCannotBeIsToldWithItsPlace(array $written, string $said): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($said);
        self::made(['name' => 'Wrong', ...$written]);
    }

    /** @param array<string, mixed> $written */
    private static function made(array $written): Beat
    {
        return WrittenBeat::read(new Fields($written), static fn (string $file): array => 'gone.wav' === $file ? throw new InvalidChange('gone.wav is not there.') : ['hash' => hash('sha256', $file), 'frames' => 9000, 'role' => 'kick', 'note' => 45.5]);
    }
}
