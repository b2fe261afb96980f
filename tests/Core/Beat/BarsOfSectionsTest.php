<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Stretch;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Song\Clip;
use Pestle\Core\Song\Marker;
use Pestle\Core\Song\Scope;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Bars of a section that are put in, taken out and copied, and sections made of ranges: what plays where, before and after. */
final class BarsOfSectionsTest extends TestCase
{
    private const BAR = 3840;

    public function testWhatIsPutInAndTakenOutAgainLeavesNoTrace(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $seen = 0;
        foreach (range(1, 12) as $seed) {
            $beat = $beats->parts($seed);
            foreach ($beat->sections as $id => $section) {
                $bar = ($section->meter ?? $beat->meter)->barTicks();
                $length = $section->lengthTicks($beat->patterns);
                if ($length < 2 * $bar) {
                    continue;
                }
                ++$seen;
                $before = self::events($beat, (string) $id);
                $in = RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => $id, 'how' => 'insert', 'bar' => 2, 'bars' => 3]]);
                self::assertSame($length + 3 * $bar, $in->section((string) $id)->lengthTicks($in->patterns));
                self::assertSame(array_map(static fn (array $e): array => [$e[0] < $bar ? $e[0] : $e[0] + 3 * $bar, $e[1], $e[2], $e[3]], $before), self::events($in, (string) $id));
                foreach (array_diff_key($beat->sections, [$id => true]) as $other => $same) {
                    self::assertSame(self::events($beat, (string) $other), self::events($in, (string) $other), 'no other section is touched');
                }
                $out = RandomBeats::changed($in, [['type' => 'splice-section', 'section' => $id, 'how' => 'delete', 'bar' => 2, 'bars' => 3]]);
                self::assertSame($before, self::events($out, (string) $id));
                self::assertSame(self::places($beat), self::places($out));
                $twice = RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => $id, 'how' => 'copy', 'bar' => 1]]);
                self::assertSame(\count($before) + \count(array_filter($before, static fn (array $e): bool => $e[0] < $bar)), \count(self::events($twice, (string) $id)));
                BeatCodec::decode(BeatCodec::encode($twice));
            }
        }
        self::assertGreaterThan(10, $seen);
    }

    public function testWhatMovesAndLiesOverTheSongGoesAlong(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Bars'), [
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('ab', 32), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900],
            ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 2], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [self::BAR, 'a0', 90]]],
            ['type' => 'set-section', 'section' => 's1', 'bars' => 4], ['type' => 'set', 'song/e1/repeats' => 2],
            ['type' => 'set-movement', 'path' => 'mixer/master/gainDb', 'points' => [[0, 0], [3 * self::BAR, 0], [3 * self::BAR + 1, -6], [8 * self::BAR, -6]]],
            ['type' => 'set-movement', 'path' => 'mixer/master/gainDb', 'scope' => 'section', 'of' => 's1', 'points' => [[0, 0], [2 * self::BAR, -4], [4 * self::BAR, 0]]],
            ['type' => 'set-marker', 'id' => 'n1', 'name' => 'Here', 'at' => 2 * self::BAR], ['type' => 'set-marker', 'id' => 'n2', 'name' => 'There', 'at' => 7 * self::BAR + 5],
        ]);
        $in = RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => 's1', 'how' => 'insert', 'bar' => 2]]);
        self::assertSame(['n1' => 3 * self::BAR, 'n2' => 9 * self::BAR + 5], array_map(static fn (Marker $m): int => $m->at, $in->markers));
        $curve = static fn (Beat $b, Scope $scope, string $of): \Closure => ($b->movements->find($scope, $of, 'mixer/master/gainDb') ?? throw new \LogicException())->curve->at(...);
        self::assertSame([0.0, 0.0, -6.0], array_map($curve($in, Scope::Song, ''), [1.0 * self::BAR, 4.0 * self::BAR - 1, 4.0 * self::BAR + 2]));
        self::assertSame([-2.0, -2.0, -4.0, 0.0], array_map($curve($in, Scope::Section, 's1'), [1.0 * self::BAR, 1.9 * self::BAR, 3.0 * self::BAR, 5.0 * self::BAR]));
        $gone = RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => 's1', 'how' => 'delete', 'bar' => 3]]);
        self::assertSame(['n2' => 5 * self::BAR + 5], array_map(static fn (Marker $m): int => $m->at, $gone->markers), 'what lay in what was taken out is gone');
        foreach ([['insert', 6, 'must be a bar of Opening, 1 to 4'], ['delete', 5, 'must be a bar of'], ['sideways', 1, 'must be one of: insert, delete, copy']] as [$how, $bar, $words]) {
            try {
                RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => 's1', 'how' => $how, 'bar' => $bar]]);
                self::fail($how);
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, str_replace($beat->section('s1')->name, 'Opening', $e->getMessage()));
            }
        }
        $short = $beat->withPattern($beat->pattern('p1')->with(['ticks' => 1, 'hits' => [$beat->pattern('p1')->hits[0]]]));
        try {
            RandomBeats::changed($short->withSection($short->section('s1')->with(['ticks' => 64 * self::BAR])), [['type' => 'splice-section', 'section' => 's1', 'how' => 'insert', 'bar' => 1]]);
            self::fail('A hit on every tick');
        } catch (InvalidChange $e) {
            self::assertStringContainsString('would hold more than 20,000 hits', $e->getMessage());
        }
        $this->expectExceptionMessage('delete the section instead');
        RandomBeats::changed($beat, [['type' => 'splice-section', 'section' => 's1', 'how' => 'delete', 'bar' => 1, 'bars' => 4]]);
    }

    public function testASectionOfARangePlaysWhatIsPlayedThere(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        foreach (range(1, 8) as $seed) {
            // Lanes that go round by themselves do so from where their section begins.
            $beat = $beats->parts($seed);
            $beat = $beat->with(['patterns' => array_map(static fn ($p) => $p->with(['lanes' => []]), $beat->patterns)]);
            $end = array_sum(array_map(static fn ($e): int => $e->repeats * $beat->section($e->section)->lengthTicks($beat->patterns), $beat->song));
            [$from, $to] = [intdiv($end, 3) + 17, min($end, intdiv($end, 3) + 17 + 5 * self::BAR + 300)];
            $there = [];
            foreach ((Stretch::named("$from-$to") ?? throw new \LogicException())->passes($beat) as [, $passage, , $at]) {
                foreach (self::of($passage) as $event) {
                    $there[] = [$event[0] + $at - $from, $event[1], $event[2], $event[3]];
                }
            }
            $there = array_values(array_filter($there, static fn (array $e): bool => $e[0] >= 0 && $e[0] < $to - $from));
            sort($there);
            $made = RandomBeats::changed($beat, [['type' => 'section-of-range', 'id' => 's90', 'name' => 'Caught', 'range' => "$from-$to"]]);
            self::assertSame($there, self::events($made, 's90'));
            self::assertSame($to - $from, $made->section('s90')->lengthTicks($made->patterns));
            self::assertCount(\count($beat->song) + 1, $made->song);
        }
        $this->expectExceptionMessage('behind the end of the song');
        RandomBeats::changed($beat, [['type' => 'section-of-range', 'id' => 's91', 'name' => 'Nothing', 'range' => ($end + 10).'-'.($end + 900)]]);
    }

    /** @return list<array{int, string, string, int}> tick, part and what is struck of all that a section plays, in order */
    private static function events(Beat $beat, string $section): array
    {
        return self::of(Passage::of($beat, $section, false));
    }

    /** @return list<array{int, string, string, int}> */
    private static function of(Passage $passage): array
    {
        $events = [];
        foreach ($passage->patterns as [$pattern, $at]) {
            foreach ([...$pattern->hits, ...$pattern->notes] as $event) {
                if ($at + $event->tick < $passage->ticks && (0 === $at || !$event instanceof Hit || null === ($pattern->lanes[$event->pad]->ticks ?? null))) {
                    $events[] = [$at + $event->tick, $pattern->part, $event instanceof Hit ? $event->pad : (string) $event->pitch, $event->velocity];
                }
            }
        }
        sort($events);

        return $events;
    }

    /** @return array<string, int> */
    private static function places(Beat $beat): array
    {
        return [...array_map(static fn (Clip $c): int => $c->at, $beat->clips), ...array_map(static fn (Marker $m): int => $m->at, $beat->markers)];
    }
}
