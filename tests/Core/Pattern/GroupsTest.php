<?php

namespace Pestle\Tests\Core\Pattern;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Performance;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Chosen notes or hits are felt apart from the rest, on top of what is written. */
final class GroupsTest extends TestCase
{
    private Beat $beat;
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = Sounds::folder();
        $tone = Sounds::sine(220.0, 20000, 44100, 0.4);
        $hash = Sounds::put($this->folder, new StereoBlock($tone, $tone), 44100, SampleFormat::Float32);
        $this->beat = RandomBeats::changed(Beat::empty('Groups'), [
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Line', 'sample' => $hash, 'start' => 0, 'end' => 20000, 'rootCents' => 5700, 'section' => 's1'],
            ['type' => 'edit-notes', 'pattern' => 'p2', 'notes' => array_map(static fn (int $i): array => [240 * $i, 57 + $i % 3, 90, 200], range(0, 7))],
            ['type' => 'feel-apart', 'pattern' => 'p2', 'notes' => [[240, 58], [720, 57], [1200, 59]], 'group' => 'notes-1'],
            ['type' => 'set-feel', 'patterns' => ['p2'], 'lane' => 'notes-1', 'swing' => 66, 'shiftTicks' => 12],
        ]);
    }

    public function testOnlyTheyAreFeltSo(): void
    {
        self::assertSame([0, 89, 0, 89, 0, 89, 0, 0], $this->later($this->beat));
        // The pattern's own feel is for the rest, and what is written stays as it is.
        $swung = RandomBeats::changed($this->beat, [['type' => 'set-feel', 'patterns' => ['p2'], 'shiftTicks' => -5]]);
        self::assertSame([-5, 89, -5, 89, -5, 89, -5, -5], $this->later($swung));
        self::assertSame(array_map(static fn (int $i): int => 240 * $i, range(0, 7)), array_column($swung->pattern('p2')->notes, 'tick'));
        self::assertEquals($swung, BeatCodec::decode(BeatCodec::encode($swung)));
    }

    public function testMovedThroughAnEditTheyStayTogetherAndWithTheRestAgainTheGroupIsGone(): void
    {
        $moved = RandomBeats::changed($this->beat, [['type' => 'edit-notes', 'pattern' => 'p2', 'gesture' => 'move', 'notes' => [[300, 60, 90, 200, 100, 0, 0, 'notes-1']], 'take' => [[240, 58]]], ['type' => 'shape-notes', 'pattern' => 'p2', 'notes' => [[720, 57]], 'how' => 'louder', 'grid' => 240]]);
        self::assertSame([300, 720, 1200], array_column(array_values(array_filter($moved->pattern('p2')->notes, static fn (Note $n): bool => 'notes-1' === $n->group)), 'tick'));
        self::assertSame(['notes-1'], $moved->pattern('p2')->groups());
        self::assertSame('notes-2', $moved->pattern('p2')->nextGroup());
        $again = RandomBeats::changed($moved, [['type' => 'feel-apart', 'pattern' => 'p2', 'notes' => [[300, 60], [720, 57], [1200, 59]], 'group' => '']]);
        self::assertSame([], $again->pattern('p2')->groups());
        self::assertSame([0, 60, 0, 0, 0, 0, 0, 0], $this->later($again));
    }

    /** Written in they are heard as they were, to the bit, and the rest is not touched. */
    public function testWrittenInTheyAreHeardAsTheyWere(): void
    {
        $written = RandomBeats::changed($this->beat, [['type' => 'write-feel', 'patterns' => ['p2'], 'lane' => 'notes-1']]);
        self::assertSame([0, 328, 480, 808, 960, 1288, 1440, 1680], array_column($written->pattern('p2')->notes, 'tick'));
        self::assertTrue($this->sound($this->beat) === $this->sound($written));
        self::assertFalse($this->sound($this->beat) === $this->sound(RandomBeats::changed($this->beat, [['type' => 'set-feel', 'patterns' => ['p2'], 'lane' => 'notes-1', 'on' => 0]])));
    }

    /** Hits of several lanes are one group; a lane that goes round goes on doing so, and edits leave the group together. */
    public function testHitsOfSeveralLanesAreFeltTogether(): void
    {
        $beat = $this->beat;
        foreach (['a0', 'a1'] as $i => $pad) {
            $hash = Sounds::put($this->folder, Sounds::hit(3 + $i, 3000, 0.5), 44100, SampleFormat::Float32);
            $beat = RandomBeats::changed($beat, [
                ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $hash, 'name' => "Hit $i", 'role' => 'hat', 'start' => 0, 'end' => 3000],
                ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $k): array => [480 * $k, $pad, 90, 200], range(0, 3))],
            ]);
        }
        $beat = RandomBeats::changed($beat, [
            ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1],
            ['type' => 'set-lane', 'pattern' => 'p1', 'lane' => 'a1', 'ticks' => 960],
            ['type' => 'feel-apart', 'pattern' => 'p1', 'hits' => [[480, 'a0'], [480, 'a1'], [1440, 'a0']], 'group' => 'notes-1'],
            ['type' => 'set-feel', 'patterns' => ['p1'], 'lane' => 'notes-1', 'shiftTicks' => 30],
        ]);
        $heard = static function (Beat $beat): array {
            $heard = ['a0' => [], 'a1' => []];
            foreach ((new Performance($beat))->of(Passage::of($beat, 'p1', true), 0) as [$event, , $tick]) {
                self::assertInstanceOf(Hit::class, $event);
                $heard[$event->pad][] = (int) round($tick);
            }

            return array_map(static function (array $ticks): array {
                sort($ticks);

                return $ticks;
            }, $heard);
        };
        $expected = ['a0' => [0, 510, 960, 1470], 'a1' => [0, 510, 960, 1470, 1920, 2430, 2880, 3390]];
        self::assertSame($expected, $heard($beat));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        $louder = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'gesture' => 'velocity', 'hits' => [[480, 'a0', 120, 200, 100, 0, 0, null, 1, 'notes-1']]]]);
        self::assertSame($expected, $heard($louder));
        // A lane that goes round is felt anew in each round, so only the others can be written in.
        $shifted = RandomBeats::changed($beat, [['type' => 'set-feel', 'patterns' => ['p1'], 'shiftTicks' => 7]]);
        foreach ([[$beat, ['lane' => 'notes-1']], [$beat, []], [$shifted, ['lane' => 'notes-1']], [$shifted, []]] as [$from, $what]) {
            $written = RandomBeats::changed($from, [['type' => 'write-feel', 'patterns' => ['p1'], ...$what]]);
            self::assertSame($heard($from), $heard($written));
            self::assertContains(510, array_column($written->pattern('p1')->hits, 'tick'));
        }
        $without = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'gesture' => 'remove', 'take' => [[480, 'a0'], [480, 'a1'], [1440, 'a0']]]]);
        self::assertSame([['notes-1'], []], [$beat->pattern('p1')->groups(), $without->pattern('p1')->groups()]);
        $together = RandomBeats::changed($beat, [['type' => 'feel-apart', 'pattern' => 'p1', 'hits' => [[480, 'a0'], [480, 'a1'], [1440, 'a0']], 'group' => '']]);
        self::assertSame([[], [0, 480, 960, 1440]], [$together->pattern('p1')->groups(), $heard($together)['a0']]);
    }

    public function testNonsenseIsRefused(): void
    {
        foreach ([[[], 'notes-1', 'Nothing is chosen'], [[[5, 5]], 'notes-1', 'Nothing is chosen'], [[[240, 58]], 'a0', 'group must be'], [[[240, 58]], 'notes-x', 'group must be']] as [$notes, $group, $says]) {
            try {
                RandomBeats::changed($this->beat, [['type' => 'feel-apart', 'pattern' => 'p2', 'notes' => $notes, 'group' => $group]]);
                self::fail($group.' was taken.');
            } catch (InvalidChange $e) {
                self::assertStringContainsString($says, $e->getMessage());
            }
        }
    }

    /** @return list<int> ticks by which each note is heard later than it is written */
    private function later(Beat $beat): array
    {
        $later = [];
        foreach ((new Performance($beat))->of(Passage::of($beat, 'p2', true), 0) as [$event, , $tick]) {
            $later[] = (int) round($tick) - 240 * (int) round(($tick - 40) / 240);
        }

        return $later;
    }

    private function sound(Beat $beat): string
    {
        $sounds = new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
        $sound = '';
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::loop($beat, 'p2', $sounds)) as $moment) {
            $sound .= $moment->mix->sound();
        }

        return $sound;
    }
}
