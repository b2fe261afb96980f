<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\Segment;
use Pestle\Core\Render\Slice;
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
        $at = $beat->tempo->frames(960.0, Beat::SAMPLE_RATE);
        $segment = new Segment(0, $at - 1600, 4096, 960.0 - $beat->tempo->exactTicks(1600 / Beat::SAMPLE_RATE));
        $values = Slice::of($curve, $beat, $segment)->values ?? self::fail('It moves.');
        $steps = array_map(static fn (float $a, float $b): float => abs($b - $a), \array_slice($values, 0, -1), \array_slice($values, 1));
        self::assertLessThan(5800.0 / 13.9, max([0.0, ...$steps]));
        self::assertSame(200.0, $values[99], 'it begins where it was drawn, no sooner');
        self::assertEqualsWithDelta(6000.0, $values[116], 150.0, 'and is there 5 ms later');
        // In two segments it is the same, to the bit.
        $half = new Segment(1, $at - 1600 + 2048, 2048, $segment->tick + $beat->tempo->exactTicks(2048 / Beat::SAMPLE_RATE));
        self::assertEqualsWithDelta(\array_slice($values, 128), Slice::of($curve, $beat, $half)->values ?? [], 1e-6);
        $old = Slice::of($curve, $beat->with(['rules' => SoundRules::First]), $segment)->values ?? [];
        self::assertEqualsWithDelta(5800.0, max([0.0, ...array_map(static fn (float $a, float $b): float => abs($b - $a), \array_slice($old, 0, -1), \array_slice($old, 1))]), 50.0);
    }

    /** Ten minutes of short sections end where the exact time does, not where roundings have added up to. */
    #[TestWith(['4/4', 97.3])]
    #[TestWith(['7/8', 97.3])]
    #[TestWith(['5/8', 133.33])]
    public function testSectionsDoNotDrift(string $meter, float $bpm): void
    {
        $beat = RandomBeats::changed(Beat::empty('Long'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900], ['type' => 'set-meter', 'meter' => $meter], ['type' => 'set-tempo', 'bpm' => $bpm], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]], ['type' => 'set-section', 'section' => 's1', 'repeats' => 60], ['type' => 'set-song', 'sections' => ['s1', 's1', 's1']]]);
        $ticks = 180 * $beat->pattern('p1')->ticks;
        $sounds = new PadSounds(new SampleLibrary(Sounds::folder()), Beat::SAMPLE_RATE);
        self::assertSame((int) round($ticks * 60 / 960 / $bpm * 44100), Plan::song($beat, Passage::song($beat), $sounds)->frames);
        $old = $beat->with(['rules' => SoundRules::First]);
        self::assertSame(180 * Plan::frames($old, Passage::of($old, 's1', false)), Plan::song($old, Passage::song($old), $sounds)->frames);
    }
}
