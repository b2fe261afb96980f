<?php

namespace Pestle\Tests\Core\Kit;

use Pestle\Core\Kit\Bank;
use Pestle\Core\Kit\Kit;
use Pestle\Core\Kit\Layer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Mix\Mixer;
use Pestle\Core\Mix\Node;
use Pestle\Core\Mix\NodeKind;
use Pestle\Core\Pattern\Feel;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Song\Section;
use Pestle\Core\Theory\Meter;
use PHPUnit\Framework\TestCase;

final class KitAndPatternTest extends TestCase
{
    public function testPadsKeepTheOrderOfTheirPlaces(): void
    {
        $kit = Kit::empty('part-1');
        foreach (['a10', 'a2', 'a0'] as $id) {
            $kit = $kit->withPad($this->pad($id));
        }
        self::assertSame(['a0', 'a2', 'a10'], array_keys($kit->pads));
        self::assertTrue($kit->hasPlace('a15'));
        self::assertFalse($kit->hasPlace('a16'));
        self::assertFalse($kit->hasPlace('b0'));
        $kit = $kit->withBank(new Bank('b', 'More', 'part-2'))->withPad($this->pad('b3'))->withoutPad('a2');
        self::assertSame(['a0', 'a10', 'b3'], array_keys($kit->pads));
        self::assertSame('More', $kit->bank('b')?->name);
        self::assertSame(['part-1', 'part-2', null], [$kit->partOf('a10'), $kit->partOf('b3'), $kit->partOf('q1')]);
        self::assertSame([['b3'], ['a']], [array_keys($kit->withoutPart('part-1')->pads), array_column($kit->banksOf('part-1'), 'id')]);
        for ($bank = $kit; null !== $id = $bank->nextBankId();) {
            $bank = $bank->withBank(new Bank($id, $id, 'part-1'));
        }
        self::assertCount(Kit::MAX_BANKS, $bank->banks);
        self::assertSame('Again', $bank->withBank(new Bank('c', 'Again', 'part-1'))->bank('c')?->name);
    }

    public function testAPatternIsInOrderAndWithinItsBars(): void
    {
        $pattern = Pattern::of('p', 'P', 'part-1', 3840, new Feel(), [new Hit(960, 'b', 1), new Hit(4000, 'a', 2), new Hit(960, 'a', 3), new Hit(0, 'z', 4), new Hit(960, 'b', 5)]);
        self::assertSame(['0 z', '960 a', '960 b'], array_map(static fn (Hit $h): string => $h->key(), $pattern->hits));
        self::assertSame(5, $pattern->hits[2]->velocity, 'the later of two at one place');
        self::assertSame(2, \count($pattern->with(['ticks' => 7680])->withHits([new Hit(0, 'a', 1), new Hit(5000, 'a', 1)])->hits));
        $repeated = $pattern->with(['ticks' => 3 * 3840])->withBarRepeated(0, Meter::of(4, 4));
        self::assertCount(9, $repeated->hits);
        self::assertSame([], $pattern->with(['ticks' => 3 * 3840])->withBarRepeated(2, Meter::of(4, 4))->hits);
        self::assertSame($pattern->hits, $pattern->with(['name' => 'Q'])->hits);
        self::assertSame([0, 960, 960, 3840, 4800, 4800], array_column($pattern->doubled()->hits, 'tick'));
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
        foreach (['c1' => Mixer::DRUMS, 'c2' => null, 'c3' => null] as $id => $group) {
            self::assertSame($id, $mixer->nextId(NodeKind::Channel));
            $mixer = $mixer->with(Node::channel($id, $id, $group));
        }
        $heard = static fn (Mixer $m): string => implode(' ', array_keys(array_filter($m->of(NodeKind::Channel), $m->isHeard(...))));
        self::assertSame('c1 c2 c3', $heard($mixer));
        self::assertSame('c2 c3', $heard($mixer->with($mixer->nodes[Mixer::DRUMS]->with(['mute' => true]))));
        $solo = $mixer->with($mixer->nodes['c2']->with(['solo' => true]));
        self::assertTrue($solo->hasSolo());
        self::assertSame('c2', $heard($solo));
        self::assertSame('', $heard($solo->with($solo->nodes['c2']->with(['mute' => true]))), 'mute is stronger');
        self::assertSame('c1', $heard($mixer->with($mixer->nodes[Mixer::DRUMS]->with(['solo' => true]))), 'a group is heard with all that is in it');
        self::assertSame('c2', $solo->without('c2')->nextId(NodeKind::Channel));
    }

    public function testASectionLastsAsLongAsItsLongestFilledPattern(): void
    {
        $filled = static fn (string $id, int $ticks): Pattern => Pattern::of($id, $id, 'part-1', $ticks, new Feel(), [new Hit(0, 'a0', 100)]);
        $patterns = ['three' => $filled('three', 3 * 3840), 'four' => $filled('four', 4 * 3840), 'empty' => Pattern::empty('empty', 'E', 'part-1', 16 * 3840)];
        $section = new Section('s', 'S', ['x' => 'three', 'y' => 'four', 'z' => 'empty']);
        self::assertSame(4 * 3840, $section->lengthTicks($patterns), 'what is empty counts for nothing');
        self::assertSame(3 * 3840, $section->with(['muted' => ['y']])->lengthTicks($patterns));
        self::assertSame(960, $section->with(['ticks' => 960])->lengthTicks($patterns));
        $silent = new Section('s', 'S', ['z' => 'empty']);
        self::assertSame([0, 16 * 3840], [$silent->lengthTicks($patterns), $silent->loopTicks($patterns, Meter::of(4, 4))], 'it takes no time, and still one can work on it');
        self::assertSame([0, 2880], [(new Section('s', 'S', []))->lengthTicks($patterns), (new Section('s', 'S', []))->loopTicks($patterns, Meter::of(6, 8))]);
    }

    public function testMetersKnowTheirBarsAndBeats(): void
    {
        foreach (['4/4' => [3840, 960], '3/4' => [2880, 960], '5/4' => [4800, 960], '6/8' => [2880, 1440], '7/8' => [3360, 480], '12/8' => [5760, 1440], '3/8' => [1440, 480], '7/16' => [1680, 240]] as $name => [$bar, $beat]) {
            $meter = Meter::named($name);
            self::assertSame([$name, $bar, $beat], [$meter->name(), $meter->barTicks(), $meter->beatTicks()]);
            self::assertSame([1, 1, 2], [$meter->bars(1), $meter->bars($bar), $meter->bars($bar + 100)]);
        }
        $this->expectException(\InvalidArgumentException::class);
        Meter::named('4/5');
    }

    public function testRolesKnowTheDrums(): void
    {
        $drums = array_filter(Role::cases(), static fn (Role $role): bool => $role->isDrum());
        self::assertCount(8, $drums);
        self::assertSame('Open hat', Role::OpenHat->label());
    }

    private function pad(string $id): Pad
    {
        return Pad::of($id, Role::Kick, 'c1', new Layer('Pad '.$id, str_repeat('a', 64), 0, 10));
    }
}
