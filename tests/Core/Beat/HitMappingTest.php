<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\HitMapping;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Another kit under a part: nothing merges, nothing is lost, nothing plays what it is not. */
final class HitMappingTest extends TestCase
{
    public function testAKickAndTwoSnaresStayThree(): void
    {
        $beat = RandomBeats::changed(Beat::empty('Three'), [
            self::fill('a0', 'kick'), self::fill('a1', 'snare'), self::fill('a2', 'snare'),
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [0, 'a1', 90], [0, 'a2', 80]]],
            ['type' => 'set-feel', 'patterns' => ['p1'], 'lane' => 'a2', 'swing' => 66],
            ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Other'], self::fill('b0', 'snare'), self::fill('b2', 'hat'),
            ['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2'],
        ]);
        $pattern = $beat->pattern('p1');
        // The snare lies where the kick was: the first snare's hits go there, the kick's and the second's where no sound is.
        self::assertSame(['a0' => 90, 'a1' => 100, 'a3' => 80], array_column($pattern->hits, 'velocity', 'pad'));
        self::assertNull($beat->kit->pad('a1'));
        self::assertNull($beat->kit->pad('a3'));
        self::assertSame(['a3'], array_keys($pattern->lanes), 'what a lane feels goes with its hits');
        self::assertSame(66.0, $pattern->feelOf('a3')->swing);
    }

    public function testNothingIsLostByChance(): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(5));
        $roles = Role::cases();
        for ($seed = 0; $seed < 40; ++$seed) {
            $changes = [['type' => 'add-part', 'id' => 'part-2', 'name' => 'Other']];
            $filled = ['a0'];
            $changes[] = self::fill('a0', 'kick');
            foreach (['a', 'b'] as $bank) {
                for ($i = 0; $i < 16; ++$i) {
                    if ($chance->getInt(0, 3) > 0) {
                        $changes[] = self::fill($bank.$i, $roles[$chance->getInt(0, 4)]->value);
                        $filled = 'a' === $bank ? [...$filled, 'a'.$i] : $filled;
                    }
                }
            }
            $hits = [];
            for ($h = 0; $h < 60; ++$h) {
                $hits[] = [240 * $chance->getInt(0, 15), $filled[$chance->getInt(0, \count($filled) - 1)], $chance->getInt(1, 127)];
            }
            $beat = RandomBeats::changed(Beat::empty('Chance'), [...$changes, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits], ['type' => 'clear-pad', 'pad' => $filled[\count($filled) - 1]]]);
            $sheet = ['type' => 'load-kit', 'part' => 'part-1', 'sheet' => BeatCodec::json(KitSheet::of($beat, 'part-2')->toArray())];
            foreach ([['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2'], $sheet] as $change) {
                $after = RandomBeats::changed($beat, [$change]);
                $told = static fn (Beat $of): array => array_map(static fn (Hit $h): string => $h->tick.' '.$h->velocity, $of->pattern('p1')->hits);
                $sorted = static function (array $list): array {
                    sort($list);

                    return $list;
                };
                self::assertSame($sorted($told($beat)), $sorted($told($after)), "seed $seed");
                $places = array_map(static fn (Hit $h): string => $h->tick.' '.$h->pad, $after->pattern('p1')->hits);
                self::assertSame($places, array_values(array_unique($places)), "seed $seed");
                $was = [];
                foreach ($beat->pattern('p1')->hits as $hit) {
                    $was[$hit->tick.' '.$hit->velocity][] = $beat->kit->pad($hit->pad)?->role;
                }
                foreach ($after->pattern('p1')->hits as $hit) {
                    $pad = $after->kit->pad($hit->pad);
                    self::assertTrue(null === $pad || \in_array($pad->role, $was[$hit->tick.' '.$hit->velocity], true), "seed $seed: nothing plays what it is not");
                }
                self::assertEquals($after, BeatCodec::decode(BeatCodec::encode($after)));
            }
            self::assertNotSame([], HitMapping::lanes($beat, 'part-1'));
        }
    }

    /** A full kit under one that has none of its roles: its hits lie in a bank of their own. */
    public function testWhereNoPlaceIsFreeABankIsMade(): void
    {
        $changes = [['type' => 'add-part', 'id' => 'part-2', 'name' => 'Other']];
        for ($i = 0; $i < 16; ++$i) {
            array_push($changes, self::fill('a'.$i, 'kick'), self::fill('b'.$i, 'voice'));
        }
        $hits = array_map(static fn (int $i): array => [240 * $i, 'a'.$i, 1 + $i], range(0, 15));
        $beat = RandomBeats::changed(Beat::empty('Full'), [...$changes, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits], ['type' => 'exchange-kit', 'part' => 'part-1', 'from' => 'part-2']]);
        self::assertSame(array_map(static fn (int $i): string => 'c'.$i, range(0, 15)), array_column($beat->pattern('p1')->hits, 'pad'));
        self::assertSame(['Without a sound', 'part-1'], [$beat->kit->bank('c')?->name, $beat->kit->bank('c')?->part]);
    }

    /** @return array<string, mixed> */
    private static function fill(string $pad, string $role): array
    {
        return ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat('e', 64), 'name' => ucfirst($role).' '.$pad, 'role' => $role, 'start' => 0, 'end' => 100];
    }
}
