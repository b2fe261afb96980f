<?php

namespace Pestle\Tests\Core\Kit;

use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Channel;
use Pestle\Core\Mix\Group;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Order;
use Pestle\Core\Theory\Swing;
use PHPUnit\Framework\TestCase;

final class KitAndPatternTest extends TestCase
{
    public function testPadsKeepTheOrderOfTheirPlaces(): void
    {
        $kit = Kit::empty();
        foreach (['a10', 'a2', 'a0'] as $id) {
            $kit = $kit->withPad($this->pad($id));
        }
        self::assertSame(['a0', 'a2', 'a10'], array_keys($kit->pads));
        self::assertTrue($kit->hasPlace('a15'));
        self::assertFalse($kit->hasPlace('a16'));
        self::assertFalse($kit->hasPlace('b0'));
        $kit = $kit->withBank(new Bank('b', 'More'))->withPad($this->pad('b3'))->withoutPad('a2');
        self::assertSame(['a0', 'a10', 'b3'], array_keys($kit->pads));
        self::assertSame('More', $kit->bank('b')?->name);
        for ($bank = $kit; null !== $id = $bank->nextBankId();) {
            $bank = $bank->withBank(new Bank($id, $id));
        }
        self::assertCount(Kit::MAX_BANKS, $bank->banks);
        self::assertSame('Again', $bank->withBank(new Bank('c', 'Again'))->bank('c')?->name);
    }

    public function testAPatternIsInOrderAndWithinItsBars(): void
    {
        $pattern = Pattern::of('p', 'P', 1, Swing::percent(50), [new Hit(960, 'b', 1), new Hit(4000, 'a', 2), new Hit(960, 'a', 3), new Hit(0, 'z', 4), new Hit(960, 'b', 5)]);
        self::assertSame(['0 z', '960 a', '960 b'], array_map(static fn (Hit $h): string => $h->key(), $pattern->hits));
        self::assertSame(5, $pattern->hits[2]->velocity, 'the later of two at one place');
        self::assertSame(2, \count($pattern->withBars(2)->withHits([new Hit(0, 'a', 1), new Hit(5000, 'a', 1)])->hits));
        self::assertSame(0, $pattern->withHits([new Hit(3839, 'a', 1)])->quantised()->hits[0]->tick, 'what rounds to the end goes to the start');
        $repeated = $pattern->withBars(3)->withBarRepeated(0);
        self::assertCount(9, $repeated->hits);
        self::assertSame([], $pattern->withBars(3)->withBarRepeated(2)->hits);
        self::assertSame('Q', $pattern->renamed('Q')->name);
        self::assertSame($pattern->hits, $pattern->copiedAs('q', 'Q')->hits);
    }

    public function testSlicesCoverTheRecording(): void
    {
        foreach ([1, 2, 7, 16, 128] as $parts) {
            $markers = array_map(static fn (int $i): int => intdiv($i * 10_007, $parts), range(0, $parts - 1));
            $regions = (new Slices($markers))->regions(10_007);
            self::assertCount($parts, $regions);
            self::assertSame([0, 10_007], [$regions[0][0], $regions[$parts - 1][1]]);
            foreach (\array_slice($regions, 1) as $i => $region) {
                self::assertSame($regions[$i][1], $region[0]);
            }
        }
        self::assertSame([[10, 20], [20, 100]], (new Slices([10, 20]))->regions(100));
        self::assertSame([[10, 20]], (new Slices([10, 20]))->regions(20), 'what would be empty is left out');
    }

    public function testSoloAndMuteDecideWhatIsHeard(): void
    {
        $mixer = Mixer::empty();
        foreach (['c1' => Group::DRUMS, 'c2' => null, 'c3' => null] as $id => $group) {
            self::assertSame($id, $mixer->nextChannelId());
            $mixer = $mixer->withChannel(Channel::named($id, $id, $group));
        }
        $heard = static fn (Mixer $m): string => implode(' ', array_keys(array_filter($m->channels, $m->isHeard(...))));
        self::assertSame('c1 c2 c3', $heard($mixer));
        self::assertSame('c2 c3', $heard($mixer->withGroup($mixer->groups[Group::DRUMS]->with(['mute' => true]))));
        $solo = $mixer->withChannel($mixer->channels['c2']->with(['solo' => true]));
        self::assertTrue($solo->hasSolo());
        self::assertSame('c2', $heard($solo));
        self::assertSame('', $heard($solo->withChannel($solo->channels['c2']->with(['mute' => true]))), 'mute is stronger');
        self::assertSame('c2', $solo->withoutChannel('c2')->nextChannelId());
    }

    public function testAnOrderLosesAPatternEverywhere(): void
    {
        $order = new Order([['pattern' => 'a', 'repeats' => 2], ['pattern' => 'b', 'repeats' => 1], ['pattern' => 'a', 'repeats' => 1]]);
        self::assertSame([['pattern' => 'b', 'repeats' => 1]], $order->withoutPattern('a')->parts);
    }

    public function testRolesKnowTheDrums(): void
    {
        $drums = array_filter(Role::cases(), static fn (Role $role): bool => $role->isDrum());
        self::assertCount(8, $drums);
        self::assertSame('Open hat', Role::OpenHat->label());
    }

    private function pad(string $id): Pad
    {
        return new Pad($id, 'Pad '.$id, Role::Kick, str_repeat('a', 64), 0, 10, 'c1');
    }
}
