<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\LiveFields;
use Pestle\Core\Beat\LivePatterns;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\HeldEffect;
use Pestle\Core\Song\LiveChoice;
use Pestle\Core\Song\LiveSet;
use Pestle\Core\Theory\Curve;
use Pestle\Core\Theory\Meter;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** A performance as a list: what is held when, what becomes of patterns, and that what comes from outside is looked at. */
final class LiveSetTest extends TestCase
{
    public function testWhatIsHeldLastsUntilItIsLetGo(): void
    {
        $say = static fn (string $id, int $tick, string $effect, bool $on): LiveChoice => new LiveChoice($id, $tick, [], [], [$effect => $on]);
        $set = LiveSet::of([
            new LiveChoice('l0', 0, ['part-1' => 'p1']), $say('l1', 100, 'echo', true), $say('l2', 150, 'echo', true), $say('l3', 300, 'echo', false),
            $say('l4', 400, 'echo', false), $say('l5', 500, 'half', true), $say('l6', 900, 'echo', true),
        ]);
        // Begun twice it was begun once; let go twice likewise.
        self::assertSame([[100, 300], [900, null]], $set->held(HeldEffect::Echo));
        self::assertSame([[500, null]], $set->held(HeldEffect::Half));
        self::assertSame([], $set->held(HeldEffect::Tone));
        foreach ([[99, null], [100, 100], [299, 100], [300, null], [900, 900], [99_999, 900]] as [$tick, $since]) {
            self::assertSame($since, $set->heldSince(HeldEffect::Echo, $tick), (string) $tick);
        }
        // Only what bends patterns parts a song.
        self::assertSame([500], $set->cuts(0, 10_000));
        self::assertSame(900, $set->lastTick());
        // A choice of patterns takes no place of what is held.
        self::assertCount(8, $set->with(new LiveChoice('l7', 950, ['part-1' => null]), 0)->choices);
    }

    /** Whenever it is held and let go: points follow one another, stay within what can be set, and are open where nothing is held. */
    #[TestWith([HeldEffect::Tone])]
    #[TestWith([HeldEffect::Thin])]
    #[TestWith([HeldEffect::Echo])]
    public function testWhatItMovesStaysWithinBounds(HeldEffect $effect): void
    {
        $insert = $effect->insert('i1');
        $bounds = $insert::parameters();
        for ($seed = 1; $seed <= 60; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $times = [];
            for ($at = $chance->getInt(0, 4000), $n = $chance->getInt(1, 8); $n > 0; --$n) {
                $times[] = [$at, $to = $at + $chance->getInt(LiveSet::FINEST, 9000)];
                // It may begin again before it was quite open.
                $at = $to + $chance->getInt(LiveSet::FINEST, 4000);
            }
            foreach ($effect->moves($times, 3840) as $setting => $points) {
                $curve = new Curve($points);
                // What was heard before it was let go, and before it was held again, stays as it was.
                $last = $times[\count($times) - 1];
                foreach ([[[...\array_slice($times, 0, -1), [$last[0], null]], $last[1]], [\array_slice($times, 0, -1), $last[0]]] as [$known, $until]) {
                    $before = $effect->moves($known, 3840)[$setting];
                    for ($tick = 0.0; $tick < $until; $tick += 97.0) {
                        self::assertEqualsWithDelta((new Curve($before))->at($tick), $curve->at($tick), 1e-6, \sprintf('seed %d, %s at %d', $seed, $setting, $tick));
                    }
                }
                foreach ($points as [, $value]) {
                    self::assertGreaterThanOrEqual($bounds[$setting]->least, $value);
                    self::assertLessThanOrEqual($bounds[$setting]->most, $value);
                }
                self::assertEqualsWithDelta($insert->settings()[$setting], $curve->at($at + 20_000.0), 1e-6);
                if ('mix' === $setting) {
                    self::assertGreaterThan(50.0, $curve->at($times[0][0] + 10.0));
                }
            }
        }
        self::assertSame([], HeldEffect::Stutter->moves([[0, 960]], 3840));
    }

    public function testEachIsCalledOtherwise(): void
    {
        $names = array_map(static fn (HeldEffect $effect): string => $effect->label(), HeldEffect::cases());
        self::assertSame($names, array_values(array_unique($names)));
        self::assertNotContains('', $names);
    }

    /** Turned by as much as it is long a pattern is itself; turned twice it is turned by both; slowed, nothing is lost. */
    public function testTurnedAndSlowedNothingIsLost(): void
    {
        $meter = Meter::named('4/4');
        $hits = array_map(static fn (int $tick): Hit => new Hit($tick, 'a'.($tick % 3), 100, 240), [0, 239, 240, 960, 2001, 3839, 5000, 7679]);
        $notes = array_map(static fn (int $tick): Note => new Note($tick, 40 + $tick % 20, 90, 700), [3, 1920, 7000]);
        $pattern = Pattern::of('p1', 'Riff', 'part-1', 7680, new Feel(), $hits, $notes);
        foreach ([240, 3840, 7679] as $at) {
            [$turned, $runs] = LivePatterns::turned($pattern, $at, $meter);
            self::assertSame($pattern->ticks, array_sum(array_column($runs, 2)));
            self::assertCount(\count($hits), $turned->hits);
            self::assertCount(\count($notes), $turned->notes);
            [$back] = LivePatterns::turned($turned, $pattern->ticks - $at, $meter);
            self::assertEquals($pattern->hits, $back->hits);
            self::assertEquals($pattern->notes, $back->notes);
        }
        self::assertSame('Riff, from bar 2', LivePatterns::turned($pattern, 3840, $meter)[0]->name);
        self::assertSame('Riff, from beat 1.25', LivePatterns::turned($pattern, 240, $meter)[0]->name);
        $slow = LivePatterns::slowed($pattern);
        self::assertSame(15_360, $slow->ticks);
        self::assertSame(array_map(static fn (Hit $h): int => 2 * $h->tick, $pattern->hits), array_map(static fn (Hit $h): int => $h->tick, $slow->hits));
        self::assertSame(1400.0, $slow->notes[0]->lengthTicks());
        // Backwards twice is as it was.
        $back = LivePatterns::mirrored($pattern);
        self::assertSame([0, 1, 2680, 3841, 5679, 6720, 7440, 7441], array_map(static fn (Hit $h): int => $h->tick, $back->hits));
        self::assertSame([5060, 6977, 7660], array_map(static fn (Note $n): int => $n->tick, $back->notes));
        self::assertEquals([$pattern->hits, $pattern->notes], [LivePatterns::mirrored($back)->hits, LivePatterns::mirrored($back)->notes]);
        $stuttered = LivePatterns::stuttered($pattern, 240);
        self::assertSame([0, 239], array_map(static fn (Hit $h): int => $h->tick, $stuttered->hits));
        self::assertSame(240, $stuttered->ticks);
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function wrong(): iterable
    {
        $first = ['id' => 'l0', 'tick' => 0, 'patterns' => [], 'muted' => []];
        yield 'no list' => [['choices' => 'l0'], 'choices'];
        yield 'no beginning' => [['choices' => [['tick' => 4] + $first]], 'choices must begin at tick 0.'];
        yield 'no id' => [['choices' => [['id' => ''] + $first]], 'id'];
        yield 'before the start' => [['choices' => [$first, ['tick' => -1] + $first]], 'tick'];
        yield 'too many parts held' => [['choices' => [['held' => array_fill_keys(array_map(static fn (int $i): string => 'tone/part-'.$i, range(1, 400)), true)] + $first]], 'at most 64 parts'];
        yield 'no effect' => [['choices' => [['held' => ['fog' => true]] + $first]], 'held'];
        yield 'no switch' => [['choices' => [['muted' => ['part-1' => 'perhaps']] + $first]], 'part-1'];
        yield 'too many' => [['choices' => array_fill(0, LiveSet::MOST + 1, $first)], 'choices'];
        yield 'too many parts' => [['choices' => [['muted' => array_fill_keys(array_map(static fn (int $i): string => 'part-'.$i, range(1, 500)), true)] + $first]], 'parts'];
    }

    /** @param array<string, mixed> $fields */
    #[DataProvider('wrong')]
    public function testWhatIsNoPerformanceIsRefused(array $fields, string $told): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessageMatches('/'.preg_quote($told, '/').'/');
        LiveFields::read(new Fields($fields));
    }
}
