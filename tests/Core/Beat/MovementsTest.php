<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Movement;
use Pestle\Core\Song\Scope;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Thinning;
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
        $longer = RandomBeats::changed($beat, [['type' => 'set', 'song/e1/repeats' => 3]]);
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

    /** Levels that are staged stage what moves them; what this version does not know stays as it is, and harms nothing. */
    public function testGainsThatAreStagedMoveWhatMoves(): void
    {
        $beat = self::song(['s1' => 1], [['type' => 'set-movement', 'path' => 'mixer/c1/gainDb', 'points' => [[0, -20], [960, 11]]], ['type' => 'set-movement', 'path' => self::GAIN, 'points' => [[0, -3]]]]);
        $odd = new Movement('mixer/c1/brightness', Scope::Song, '', new Curve([[0.0, 1.0, 0.0]]));
        $staged = RandomBeats::changed($beat->with(['movements' => $beat->movements->with($odd)]), [['type' => 'stage-gains', 'byDb' => 2]]);
        $level = $staged->movements->find(Scope::Song, '', 'mixer/c1/gainDb')?->curve;
        self::assertEqualsWithDelta([-18.0, 12.0, -5.0], [$level?->at(0.0), $level?->at(960.0), self::at($staged, 0.0)], 1e-9);
        self::assertNotNull($staged->movements->find(Scope::Song, '', 'mixer/c1/brightness'));
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

    /** What was written is kept in few points, in the place of what was there; beside it, it is as it was. */
    public function testWhatIsWrittenTakesThePlaceOfWhatItPasses(): void
    {
        $raw = array_map(static fn (int $i): array => [960 + 16 * $i, -10 + 12 * sin($i / 20)], range(0, 180));
        $write = static fn (string $how): array => ['type' => 'write-movement', 'path' => self::GAIN, 'points' => $raw, 'how' => $how];
        $beat = self::song(['s1' => 1, 's2' => 1], [['type' => 'set', self::GAIN => -3], ['type' => 'set-movement', 'path' => self::GAIN, 'points' => [[0, -10], [7680, 6]]]]);
        $was = static fn (float $tick): float => -10.0 + 16.0 * $tick / 7680;
        foreach (['touched' => [$was(500.0), $was(5000.0)], 'on' => [$was(500.0), $raw[180][1]], 'all' => [$raw[0][1], $raw[180][1]]] as $how => [$before, $after]) {
            $written = RandomBeats::changed($beat, [$write($how)]);
            foreach (\array_slice($raw, 0, -1) as [$tick, $value]) {
                self::assertEqualsWithDelta($value, self::at($written, $tick), 0.005 * 48.0 + 1e-9);
            }
            self::assertEqualsWithDelta([$before, $after], [self::at($written, 500.0), self::at($written, 5000.0)], 1e-6, $how);
            self::assertLessThan(40, \count($written->movements->find(Scope::Song, '', self::GAIN)->curve->points ?? []));
        }
        // Where nothing moved yet, beside it it is as it is set.
        $fresh = RandomBeats::changed(self::song(['s1' => 1], [['type' => 'set', self::GAIN => -3]]), [$write('touched')]);
        self::assertEqualsWithDelta([-3.0, -3.0], [self::at($fresh, 100.0), self::at($fresh, 6000.0)], 1e-9);
    }

    public function testShapesAreWhatTheyAreCalled(): void
    {
        $beat = self::song(['s1' => 4], []);
        $values = static function (string $shape, int $seed = 1) use ($beat): array {
            $shaped = RandomBeats::changed($beat, [['type' => 'shape-movement', 'path' => self::GAIN, 'shape' => $shape, 'from' => 0, 'to' => 3840, 'low' => -24, 'high' => 0, 'every' => 960, 'seed' => $seed]]);

            return array_map(static fn (int $tick): float => self::at($shaped, (float) $tick) ?? self::fail('It does not move.'), [0, 480, 1000, 1919, 2400, 3000, 3839]);
        };
        $rises = $values('rise');
        $sorted = $rises;
        sort($sorted);
        self::assertSame($sorted, $rises);
        self::assertEqualsWithDelta([-24.0, 0.0], [$rises[0], $rises[6]], 0.1);
        self::assertEqualsWithDelta([0.0, -24.0], [$values('fall')[0], $values('fall')[6]], 0.1);
        self::assertEqualsWithDelta([-24.0, 0.0, -24.0], [$values('arch')[0], $values('arch')[3], $values('arch')[6]], 0.2);
        self::assertSame([-24.0, -24.0, -16.0, -16.0, -8.0, 0.0, 0.0], $values('stair'));
        self::assertSame([0.0, -24.0, 0.0, -24.0, -24.0, 0.0, -24.0], $values('pulse'));
        self::assertSame($values('chance', 7), $values('chance', 7));
        self::assertNotSame($values('chance', 7), $values('chance', 8));
    }

    /** To another parameter in shares of its range; to a section as it is there; back to the song wherever that comes. */
    public function testMovementsAreCarriedToOthers(): void
    {
        $pan = 'mixer/c1/pan';
        $beat = self::song(['s1' => 1, 's2' => 2], [['type' => 'set-movement', 'path' => self::GAIN, 'points' => [[0, -24], [3840, 24], [11520, -24]]]]);
        $copied = RandomBeats::changed($beat, [self::carry(['toPath' => $pan, 'copy' => 1])]);
        self::assertEqualsWithDelta([-1.0, 0.0, 1.0], array_map(static fn (int $t): ?float => $copied->movements->find(Scope::Song, '', $pan)?->curve->at($t), [0, 1920, 3840]), 1e-9);
        self::assertCount(2, $copied->movements->all);
        $values = RandomBeats::changed($beat, [self::carry(['toPath' => 'mixer/c1/gainDb', 'values' => 1])]);
        self::assertEqualsWithDelta([-24.0, 12.0], array_map(static fn (int $t): ?float => $values->movements->find(Scope::Song, '', 'mixer/c1/gainDb')?->curve->at($t), [0, 3840]), 1e-9, 'as far as it goes');
        self::assertCount(1, $values->movements->all);
        $inside = RandomBeats::changed($beat, [self::carry(['toScope' => 'section', 'toOf' => 's2'])]);
        self::assertEqualsWithDelta([24.0, 0.0], array_map(static fn (int $t): ?float => $inside->movements->find(Scope::Section, 's2', self::GAIN)?->curve->at($t), [0, 3840]), 1e-9);
        $back = RandomBeats::changed($inside, [self::carry(['scope' => 'section', 'of' => 's2'])]);
        self::assertEqualsWithDelta([0.0, 24.0, 12.0, 24.0, 12.0, 0.0], array_map(static fn (int $t): ?float => self::at($back, $t), [100, 3840, 5760, 7680, 9600, 11521]), 1e-6);
        $this->expectExceptionMessage('does not move there any more');
        RandomBeats::changed($back, [self::carry(['scope' => 'section', 'of' => 's2'])]);
    }

    public function testThinningKeepsWhatIsNeededAndNoMore(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(4));
        for ($round = 0; $round < 30; ++$round) {
            $points = [[0.0, 0.0]];
            for ($i = 1; $i < 300; ++$i) {
                $points[] = [$i * 10.0, $points[$i - 1][1] + $chance->getInt(-100, 100) / 100];
            }
            $near = [0.1, 1.0, 5.0][$round % 3];
            $curve = new Curve(array_map(static fn (array $p): array => [$p[0], $p[1], 0.0], Thinning::of($points, $near)));
            foreach ($points as [$tick, $value]) {
                self::assertEqualsWithDelta($value, $curve->at($tick), $near + 1e-9);
            }
        }
        self::assertSame([[0.0, 1.0], [90.0, 10.0]], Thinning::of(array_map(static fn (int $i): array => [10.0 * $i, 1.0 + $i], range(0, 9)), 0.01));
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
        $entries = 0;
        foreach ($sections as $id => $repeats) {
            's1' === $id || $made[] = ['type' => 'add-section', 'id' => $id, 'name' => $id, 'copyOf' => 's1', 'linked' => 1];
            $made[] = ['type' => 'set', 'song/e'.(1 + $entries++).'/repeats' => $repeats];
        }

        return RandomBeats::changed(Beat::empty('Moving'), [...$made, ...$changes]);
    }

    /**
     * @param array<string, int|string> $fields
     *
     * @return array<string, int|string>
     */
    private static function carry(array $fields): array
    {
        return ['type' => 'carry-movement', 'path' => self::GAIN, 'scope' => 'song', 'of' => '', 'toPath' => self::GAIN, 'toScope' => 'song', 'toOf' => '', ...$fields];
    }

    private static function at(Beat $beat, float $tick): ?float
    {
        return $beat->movements->find(Scope::Song, '', self::GAIN)?->curve->at($tick);
    }

    private static function start(Beat $beat, string $section): int
    {
        $at = 0;
        foreach ($beat->song as $entry) {
            if ($entry->section === $section) {
                return $at;
            }
            $at += $entry->repeats * self::BAR;
        }

        return self::fail('It is not in the song.');
    }
}
