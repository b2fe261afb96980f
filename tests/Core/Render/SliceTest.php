<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Place;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\Segment;
use Pestle\Core\Render\Slice;
use Pestle\Core\Render\SongPlaces;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\SoundRules;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** What moves slides where it would jump; what comes later in a song comes on time. */
final class SliceTest extends TestCase
{
    public function testAJumpTakesFiveMillisecondsAndOldBeatsKeepTheirs(): void
    {
        $beat = Beat::empty('Jumps');
        $curve = new Curve([[0.0, 200.0, 1.0], [960.0, 6000.0, 0.0], [1920.0, 3000.0, 0.0]]);
        $moves = [new Movement('mixer/master/gainDb', Scope::Song, '', $curve)];
        $at = $beat->tempo->frames(960.0, Beat::SAMPLE_RATE);
        $place = Place::of($beat, 's1', Passage::of($beat, 's1', true), 0, null)->later(960.0 - $beat->tempo->exactTicks(1600 / Beat::SAMPLE_RATE));
        $segment = new Segment(0, $at - 1600, 4096, $place);
        $values = Slice::of($moves, 0.0, $beat, $segment)->values ?? self::fail('It moves.');
        $steps = array_map(static fn (float $a, float $b): float => abs($b - $a), \array_slice($values, 0, -1), \array_slice($values, 1));
        self::assertLessThan(5800.0 / 13.9, max([0.0, ...$steps]));
        self::assertSame(200.0, $values[99], 'it begins where it was drawn, no sooner');
        self::assertEqualsWithDelta(6000.0, $values[116], 150.0, 'and is there 5 ms later');
        // In two segments it is the same.
        $half = new Segment(1, $at - 1600 + 2048, 2048, $place->later($beat->tempo->exactTicks(2048 / Beat::SAMPLE_RATE)));
        self::assertEqualsWithDelta(\array_slice($values, 128), Slice::of($moves, 0.0, $beat, $half)->values ?? [], 1e-6);
        $old = Slice::of($moves, 0.0, $beat->with(['rules' => SoundRules::First]), $segment)->values ?? [];
        self::assertEqualsWithDelta(5800.0, max([0.0, ...array_map(static fn (float $a, float $b): float => abs($b - $a), \array_slice($old, 0, -1), \array_slice($old, 1))]), 50.0);
        // Smoothed over a tenth of a second it takes that long.
        $soft = Slice::of([$moves[0]->with(['smoothMs' => 100.0])], 0.0, $beat, new Segment(0, $at, 8192, $place->later($beat->tempo->exactTicks(1600 / Beat::SAMPLE_RATE))))->values ?? [];
        self::assertEqualsWithDelta([200.0, 3100.0, 6000.0], [$soft[0], $soft[138], $soft[280]], 300.0);
    }

    /** A pattern's goes round with it and is heard in place of its section's, that in place of the song's; where none says anything it is as set. */
    public function testTheInnermostIsHeard(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Three'), [
            ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Short', 'part' => 'part-1'], ['type' => 'set-pattern', 'pattern' => 'p2', 'bars' => 1],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]], ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [[0, 'a0', 100]]],
            ['type' => 'add-section', 'id' => 's2', 'name' => 'Second'], ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-1', 'pattern' => 'p2'], ['type' => 'set-section', 'section' => 's2', 'bars' => 2],
        ]);
        $bar = 3840.0;
        $ramp = static fn (float $from, float $to, float $ticks): Curve => new Curve([[0.0, $from, 0.0], [$ticks, $to, 0.0]]);
        $song = new Movement('mixer/master/gainDb', Scope::Song, '', $ramp(-6.0, 0.0, 4 * $bar));
        $section = new Movement('mixer/master/gainDb', Scope::Section, 's2', $ramp(-20.0, -10.0, 2 * $bar));
        $pattern = new Movement('mixer/master/gainDb', Scope::Pattern, 'p2', $ramp(-60.0, -50.0, $bar));
        $first = Place::of($beat, 's1', Passage::of($beat, 's1', false), 0, null);
        $second = Place::of($beat, 's2', Passage::of($beat, 's2', false), (int) (2 * $bar), $first->end());
        $value = static fn (Place $at, Movement ...$moves): ?float => Slice::of(array_values($moves) ?: [$song], 3.0, $beat, new Segment(0, 0, 64, $at))?->values[0];
        self::assertEqualsWithDelta(-4.5, $value($first->later($bar), $pattern, $section, $song), 0.01);
        self::assertEqualsWithDelta(-15.0, $value($second->later($bar), $section, $song), 0.01);
        // In its second round the pattern is where it was in the first.
        self::assertEqualsWithDelta([-55.0, -55.0], [$value($second->later(0.5 * $bar), $pattern, $section, $song), $value($second->later(1.5 * $bar), $pattern, $section, $song)], 0.01);
        self::assertNull($value($first->later($bar), $section));
        // From a section that says nothing into one that does it slides from what is set; a loop comes from its own end.
        self::assertEqualsWithDelta(3.0, $value($second, $section), 2.0);
        self::assertEqualsWithDelta(-10.0, $value($second->round(), $section), 1.0);
        self::assertEqualsWithDelta(-20.0, $value($second->later(60.0), $section), 0.2);
    }

    /** The segment an entry of the song is said to begin with is the one that begins there. */
    public function testEntriesOfTheSongBeginWithTheirSegments(): void
    {
        $samples = new RandomBeats(Sounds::folder());
        $sounds = new PadSounds(new SampleLibrary($samples->folder), Beat::SAMPLE_RATE);
        foreach ([41, 42, 43] as $seed) {
            $beat = $samples->parts($seed);
            $starts = [];
            foreach (Plan::song($beat, Passage::song($beat), $sounds)->segments() as $index => $segment) {
                $starts[$index] = $segment->start;
            }
            $ticks = 0;
            foreach (SongPlaces::firstSegments($beat) as $entry => $first) {
                $coming = Passage::song($beat)[$entry];
                self::assertSame(Timeline::song($beat)->frames($ticks, Beat::SAMPLE_RATE), $starts[$first]);
                $ticks += $coming->repeats * $beat->section($coming->section)->lengthTicks($beat->patterns);
            }
            self::assertGreaterThan(0, $ticks);
        }
    }

    /** Ten minutes of short sections end where the exact time does, not where roundings have added up to. */
    #[TestWith(['4/4', 97.3])]
    #[TestWith(['7/8', 97.3])]
    #[TestWith(['5/8', 133.33])]
    public function testSectionsDoNotDrift(string $meter, float $bpm): void
    {
        $beat = RandomBeats::changed(Beat::empty('Long'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900], ['type' => 'set-meter', 'meter' => $meter], ['type' => 'set-tempo', 'bpm' => $bpm], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]], ['type' => 'set-song', 'sections' => ['s1', 's1', 's1']], ['type' => 'set', 'song/e1/repeats' => 60, 'song/e2/repeats' => 60, 'song/e3/repeats' => 60]]);
        $ticks = 180 * $beat->pattern('p1')->ticks;
        $sounds = new PadSounds(new SampleLibrary(Sounds::folder()), Beat::SAMPLE_RATE);
        self::assertSame((int) round($ticks * 60 / 960 / $bpm * 44100), Plan::song($beat, Passage::song($beat), $sounds)->frames);
        $old = $beat->with(['rules' => SoundRules::First]);
        self::assertSame(180 * $old->tempo->frames(Passage::of($old, 's1', false)->ticks, 44100), Plan::song($old, Passage::song($old), $sounds)->frames);
    }
}
