<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Change\KitGroup;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;
use Pestle\Core\Pattern\Hit;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Kits are laid out, kept and loaded. */
final class KitChangesTest extends TestCase
{
    public function testAKitIsKeptAndLoadedUnderAnotherBeatsPatterns(): void
    {
        $own = RandomBeats::changed(self::beat(), [
            ['type' => 'set', 'under' => 'kit/a0', 'filter/shape' => 'low-pass', 'voices' => 4], ['type' => 'set-pad', 'pad' => 'a0', 'along' => ['a1'], 'silences' => ['a2']], ['type' => 'set', 'under' => 'part/part-1', 'tuneCents' => -200],
            ['type' => 'set-edits', 'sample' => str_repeat('a', 64), 'frames' => 100, 'edits' => [['kind' => 'gain', 'db' => -3]]],
        ]);
        $sheet = KitSheet::of($own, 'part-1');
        self::assertSame(['a0', 'a1', 'a2'], array_keys($sheet->pads));
        $other = RandomBeats::changed(Beat::empty('Other'), [
            self::fill('a0', 'x', 'Snare there', 'snare'), self::fill('a5', 'y', 'Kick there', 'kick'), self::fill('a7', 'z', 'Swell there', 'effect'),
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a5', 100], [960, 'a0', 90], [1200, 'a7', 50]]],
            ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -9],
        ]);
        $loaded = RandomBeats::changed($other, [['type' => 'load-kit', 'part' => 'part-1', 'sheet' => BeatCodec::json($sheet->toArray()), 'shelf' => '3/2/'.$sheet->print()]]);
        // Hits find their roles, what finds none stays; the pad at a place takes the channel that was there.
        self::assertSame(['a0', 'a1', 'a7'], array_map(static fn (Hit $h): string => $h->pad, $loaded->pattern('p1')->hits));
        self::assertSame(-9.0, $loaded->channel($loaded->pad('a0')->channel)->gainDb);
        self::assertSame([4, ['a1'], ['a2'], -200], [$loaded->pad('a0')->voices, $loaded->pad('a0')->along, $loaded->pad('a0')->silences, $loaded->part('part-1')->whole->tuneCents]);
        self::assertSame($sheet->print(), KitSheet::of($loaded, 'part-1')->print(), 'it is what it was');
        self::assertNotSame($sheet->print(), KitSheet::of(RandomBeats::changed($loaded, [['type' => 'set', 'kit/a0/levelDb' => -1]]), 'part-1')->print());
        self::assertEquals($loaded, BeatCodec::decode(BeatCodec::encode($loaded)));
        // Some of its pads only, and into a part of its own.
        $some = RandomBeats::changed($other, [['type' => 'load-kit', 'part' => 'part-1', 'sheet' => $json = BeatCodec::json($sheet->toArray()), 'only' => ['a1']]]);
        self::assertSame(['Snare there', 'Crack', 'Kick there', 'Swell there'], array_column($some->kit->pads, 'name'));
        $onto = RandomBeats::changed($other, [['type' => 'load-kit', 'part' => 'part-1', 'sheet' => $json, 'only' => ['a1'], 'onto' => 'a5']]);
        self::assertSame(['Snare there', 'Crack', 'Swell there'], array_column($onto->kit->pads, 'name'));
        self::assertSame($other->pad('a5')->channel, $onto->pad('a5')->channel);
        $beside = RandomBeats::changed($other, [['type' => 'load-kit', 'part' => 'part-2', 'sheet' => $json]]);
        self::assertSame(['a0', 'a5', 'a7', 'b0', 'b1', 'b2'], array_map(strval(...), array_keys($beside->kit->pads)));
        self::assertSame(['b1'], $beside->pad('b0')->along);
    }

    public function testPadsAreCopiedStackedColouredAndBecomePartsOfTheirOwn(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100], [480, 'a1', 90], [960, 'a0', 80]]], ['type' => 'copy-pad', 'pad' => 'a0', 'to' => 'a9'], ['type' => 'stack-pads', 'pads' => ['a0', 'a1', 'part-2/60']], ['type' => 'colour-pads', 'pads' => ['a0', 'a2'], 'colour' => 'tide']]);
        self::assertSame(['Low', 'a9', 'c1'], [$beat->pad('a9')->name, $beat->pad('a9')->id, $beat->pad('a9')->channel]);
        self::assertSame([['a1', 'part-2/60'], ['a0', 'part-2/60']], [$beat->pad('a0')->along, $beat->pad('a1')->along]);
        self::assertSame(['tide', null, 'tide'], [$beat->pad('a0')->colour, $beat->pad('a1')->colour, $beat->pad('a2')->colour]);
        $own = RandomBeats::changed($beat, [['type' => 'pad-to-part', 'pad' => 'a0', 'id' => 'part-3']]);
        self::assertNull($own->kit->pad('a0'));
        self::assertSame(['a1'], array_column($own->pattern('p1')->hits, 'pad'));
        $pattern = $own->pattern($own->section('s1')->patterns['part-3']);
        self::assertSame([[0, 'b0', 100], [960, 'b0', 80]], array_map(static fn (Hit $h): array => [$h->tick, $h->pad, $h->velocity], $pattern->hits));
        $loose = RandomBeats::changed($beat, [['type' => 'stack-pads', 'pads' => ['a0', 'a1'], 'bound' => 0]]);
        self::assertSame([['part-2/60'], ['part-2/60']], [$loose->pad('a0')->along, $loose->pad('a1')->along]);
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('along must name pads, or notes of instruments as part-2/60.');
        RandomBeats::changed($beat, [['type' => 'set-pad', 'pad' => 'a0', 'along' => ['../x']]]);
    }

    public function testInsertsGoOnAPadAloneOrOnTheWholeKit(): void
    {
        $beat = RandomBeats::changed(self::beat(), [['type' => 'set-pad', 'pad' => 'a2', 'channel' => 'c1'], ['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -5], ['type' => 'own-channel', 'pad' => 'a2']]);
        $own = $beat->channel($beat->pad('a2')->channel);
        self::assertSame(['Tick', -5.0], [$own->name, $own->gainDb]);
        self::assertNotSame('c1', $own->id);
        self::assertSame('drums', KitGroup::of($beat, 'part-1')?->id, 'all of it goes there, and nothing else');
        $second = RandomBeats::changed($beat, [['type' => 'load-kit', 'part' => 'part-2', 'sheet' => BeatCodec::json(KitSheet::of($beat, 'part-1')->toArray())]]);
        self::assertNull(KitGroup::of($second, 'part-1'));
        $grouped = RandomBeats::changed($second, [['type' => 'kit-group', 'part' => 'part-2']]);
        $group = KitGroup::of($grouped, 'part-2');
        self::assertSame(['Kit', 'drums'], [$group?->name, $group?->output]);
        self::assertNull(KitGroup::of($grouped, 'part-1'), 'beside it lies the group of the other kit');
    }

    private static function beat(): Beat
    {
        return RandomBeats::changed(Beat::empty('Kit'), [self::fill('a0', 'a', 'Low', 'kick'), self::fill('a1', 'b', 'Crack', 'snare'), self::fill('a2', 'c', 'Tick', 'hat')]);
    }

    /** @return array<string, mixed> */
    private static function fill(string $pad, string $sample, string $name, string $role): array
    {
        return ['type' => 'fill-pad', 'pad' => $pad, 'sample' => str_repeat(dechex(\ord($sample) % 16), 64), 'name' => $name, 'role' => $role, 'start' => 0, 'end' => 100];
    }
}
