<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** What moves belongs to something, and goes where that goes. */
final class MovementsTest extends TestCase
{
    private const GAIN = 'mixer/master/gainDb';
    private const BAR = 3840;

    public function testOverTheSongItGoesAlongWithTheSectionsItLiesUnder(): void
    {
        $beat = self::song(['s1' => 1, 's2' => 2, 's3' => 1], [['type' => 'set-movement', 'path' => self::GAIN, 'points' => [[0, -20], [1 * self::BAR, -10, 1], [2 * self::BAR, 0], [3 * self::BAR, 6]]]]);
        $under = static fn (Beat $b, string $section, float $bars): ?float => self::at($b, self::start($b, $section) + $bars * self::BAR);
        $kept = static function (Beat $now, string $why) use ($beat, $under): void {
            foreach (['s1' => [0.0, 0.5, 0.99], 's2' => [0.0, 0.5, 1.0, 1.5], 's3' => [0.0, 0.5]] as $section => $places) {
                foreach (isset($now->sections[$section]) ? $places : [] as $bars) {
                    self::assertEqualsWithDelta($under($beat, $section, $bars), $under($now, $section, $bars), 1e-9, $section.' at '.$bars.' '.$why);
                }
            }
        };
        $kept(RandomBeats::changed($beat, [['type' => 'set-song', 'sections' => ['s3', 's2', 's1']]]), 'turned round');
        $longer = RandomBeats::changed($beat, [['type' => 'set-section', 'section' => 's1', 'repeats' => 3]]);
        $kept($longer, 'with the first longer');
        self::assertEqualsWithDelta(-10.0, $under($longer, 's1', 2.5), 1e-9, 'where it became longer it stays as it was');
        $kept(RandomBeats::changed($beat, [['type' => 'add-section', 'id' => 's9', 'name' => 'New', 'copyOf' => 's1', 'after' => 1]]), 'with one between');
        $kept(RandomBeats::changed($beat, [['type' => 'remove-section', 'section' => 's2']]), 'without the second');
        // There and back again it is as it was, and has no more points than it needs.
        $back = RandomBeats::changed($beat, [['type' => 'set-song', 'sections' => ['s2', 's1', 's3']], ['type' => 'set-song', 'sections' => ['s1', 's2', 's3']]]);
        $kept($back, 'there and back');
        self::assertLessThanOrEqual(10, \count($back->movements->find(Scope::Song, '', self::GAIN)->curve->points ?? []));
        // Twice the tempo with everything along is no other order.
        $twice = RandomBeats::changed($beat, [['type' => 'scale-time', 'factor' => 2]]);
        self::assertEqualsWithDelta(self::at($beat, 1.5 * self::BAR), self::at($twice, 3.0 * self::BAR), 1e-9);
    }

    public function testWhatBelongsToSectionsAndPatternsIsCopiedAndGoesWithThem(): void
    {
        $of = static fn (Scope $scope, string $of): array => ['type' => 'set-movement', 'path' => self::GAIN, 'scope' => $scope->value, 'of' => $of, 'points' => [[0, -6], [960, 0]]];
        $beat = self::song(['s1' => 1, 's2' => 1], [$of(Scope::Section, 's1'), $of(Scope::Pattern, 'p1')]);
        $copied = RandomBeats::changed($beat, [['type' => 'add-section', 'id' => 's8', 'name' => 'Again', 'copyOf' => 's1']]);
        $pattern = $copied->section('s8')->patterns['part-1'] ?? self::fail('It has no pattern.');
        self::assertNotNull($copied->movements->find(Scope::Section, 's8', self::GAIN));
        self::assertNotNull($copied->movements->find(Scope::Pattern, $pattern, self::GAIN));
        $linked = RandomBeats::changed($beat, [['type' => 'add-section', 'id' => 's8', 'name' => 'Again', 'copyOf' => 's1', 'linked' => 1]]);
        self::assertCount(3, $linked->movements->all);
        self::assertCount(2, RandomBeats::changed($copied, [['type' => 'remove-section', 'section' => 's8'], ['type' => 'remove-pattern', 'pattern' => $pattern]])->movements->all);
        self::assertNotNull(RandomBeats::changed($beat, [['type' => 'add-pattern', 'id' => 'p9', 'name' => 'Other', 'copyOf' => 'p1']])->movements->find(Scope::Pattern, 'p9', self::GAIN));
    }

    public function testAKeptMixKeepsWhatMovedInIt(): void
    {
        $moves = static fn (float $to): array => ['type' => 'set-movement', 'path' => self::GAIN, 'points' => [[0, -20], [3840, $to]]];
        $beat = self::song(['s1' => 1], [$moves(0.0), ['type' => 'keep-mix', 'id' => 'm1', 'name' => 'Swells'], $moves(-10.0)]);
        $beat = RandomBeats::changed(BeatCodec::decode(BeatCodec::encode($beat)), [['type' => 'recall-mix', 'id' => 'm1']]);
        self::assertEqualsWithDelta(0.0, self::at($beat, 3840.0), 1e-9);
        $still = RandomBeats::changed($beat, [['type' => 'set-movement', 'path' => self::GAIN, 'points' => []], ['type' => 'keep-mix', 'id' => 'm2', 'name' => 'Still'], $moves(3.0), ['type' => 'recall-mix', 'id' => 'm2']]);
        self::assertTrue($still->movements->isEmpty());
    }

    public function testWhatDoesNotFitIsRefusedByName(): void
    {
        $points = [[0, 0]];
        foreach ([
            [['path' => self::GAIN, 'scope' => 'section', 'of' => 's7', 'points' => $points], 'This section is no longer in the beat.'],
            [['path' => self::GAIN, 'scope' => 'pattern', 'of' => 'p7', 'points' => $points], 'This pattern is no longer in the beat.'],
            [['path' => self::GAIN, 'scope' => 'bar', 'points' => $points], 'scope must be one of: song, section, pattern.'],
            [['path' => self::GAIN, 'points' => $points, 'smoothMs' => 2], 'smoothMs must be a number from 5 to 1000.'],
            [['path' => self::GAIN, 'points' => [[960, 0], [0, 0]]], 'The points of a curve follow one another in time'],
            [['path' => 'mixer/master/brightness', 'points' => $points], 'is no parameter of this beat'],
        ] as [$fields, $words]) {
            try {
                self::song(['s1' => 1], [['type' => 'set-movement', ...$fields]]);
                self::fail('It was taken: '.json_encode($fields));
            } catch (InvalidChange $e) {
                self::assertStringContainsString($words, $e->getMessage());
            }
        }
    }

    /** Any part of any curve is what the curve is there, to a hundredth of how far it goes. */
    public function testAPieceOfACurveIsTheCurveThere(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(20));
        for ($i = 0; $i < 200; ++$i) {
            $points = [];
            for ($tick = $chance->getInt(0, 40), $n = $chance->getInt(1, 8); $n > 0; --$n, $tick += $chance->getInt(0, 300)) {
                $points[] = [(float) $tick, (float) $chance->getInt(-60, 12), [0.0, 0.0, 0.5, -0.3, 1.0, -1.0][$chance->getInt(0, 5)]];
            }
            $curve = new Curve($points ?: [[0.0, 0.0, 0.0]]);
            $from = (float) $chance->getInt(0, 900);
            $to = $from + $chance->getInt(1, 900);
            $piece = new Curve($curve->piece($from, $to));
            foreach (range(0, 40) as $k) {
                $at = $from + ($to - $from) * $k / 41;
                self::assertEqualsWithDelta($curve->at($at), $piece->at($at - $from), 0.75, \sprintf('%s from %g to %g at %g', json_encode($points), $from, $to, $at));
            }
            self::assertSame($piece->at($to - $from), $piece->at($to - $from + 500.0), 'after it, it stays');
        }
    }

    /**
     * @param array<string, int>         $sections repeats by id; the first is that of an empty beat, each a bar long
     * @param list<array<string, mixed>> $changes
     */
    private static function song(array $sections, array $changes): Beat
    {
        $made = [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1], ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Tick', 'role' => 'hat', 'start' => 0, 'end' => 900], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]]];
        foreach ($sections as $id => $repeats) {
            's1' === $id || $made[] = ['type' => 'add-section', 'id' => $id, 'name' => $id, 'copyOf' => 's1', 'linked' => 1];
            $made[] = ['type' => 'set-section', 'section' => $id, 'repeats' => $repeats];
        }

        return RandomBeats::changed(Beat::empty('Moving'), [...$made, ...$changes]);
    }

    private static function at(Beat $beat, float $tick): ?float
    {
        return $beat->movements->find(Scope::Song, '', self::GAIN)?->curve->at($tick);
    }

    private static function start(Beat $beat, string $section): int
    {
        $at = 0;
        foreach ($beat->song as $id) {
            if ($id === $section) {
                return $at;
            }
            $at += $beat->section($id)->repeats * self::BAR;
        }

        return self::fail('It is not in the song.');
    }
}
