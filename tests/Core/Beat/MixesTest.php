<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Audition;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Mix\CompressorSettings;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\EqBand;
use Pestle\Core\Mix\EqShape;
use Pestle\Core\Mix\EqualizerSettings;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\TestCase;

/** Mixes that are kept and taken up again, settings set aside, what is heard for a moment, and room that lines make. */
final class MixesTest extends TestCase
{
    private Beat $beat;

    protected function setUp(): void
    {
        $pad = ['type' => 'fill-pad', 'sample' => str_repeat('a', 64), 'start' => 0, 'end' => 4000];
        $this->beat = RandomBeats::changed(Beat::empty('Two'), [[...$pad, 'pad' => 'a0', 'name' => 'Low', 'role' => 'kick'], [...$pad, 'pad' => 'a1', 'name' => 'High', 'role' => 'snare']]);
    }

    public function testAKeptMixComesBackWholeAndLinesThatCameSinceStay(): void
    {
        $kept = $this->changed(
            ['type' => 'set', 'mixer/c1/gainDb' => -5.5],
            ['type' => 'add-node', 'kind' => 'return', 'id' => 'r9', 'name' => 'Hall', 'from' => 'c1'],
            ['type' => 'keep-mix', 'id' => 'm1', 'name' => 'Warm'],
        );
        $since = RandomBeats::changed($kept, [
            ['type' => 'set', 'under' => 'mixer', 'c1/gainDb' => 2, 'master/gainDb' => -9],
            ['type' => 'set-node', 'node' => 'c1', 'name' => 'Thump', 'colour' => 'clay'],
            ['type' => 'remove-node', 'node' => 'r9'],
            ['type' => 'add-node', 'kind' => 'group', 'id' => 'g9', 'name' => 'New', 'from' => 'c2'],
        ]);
        $back = RandomBeats::changed($since, [['type' => 'recall-mix', 'id' => 'm1']]);
        self::assertSame([-5.5, 'Thump', 'clay'], [$back->mixer->nodes['c1']->gainDb, $back->mixer->nodes['c1']->name, $back->mixer->nodes['c1']->colour]);
        self::assertSame($kept->mixer->master->gainDb, $back->mixer->master->gainDb);
        self::assertArrayHasKey('r9', $back->mixer->nodes['c1']->sends);
        self::assertSame('Hall', $back->mixer->nodes['r9']->name);
        self::assertArrayHasKey('g9', $back->mixer->nodes);
        self::assertSame($kept->mixer->nodes['c2']->output, $back->mixer->nodes['c2']->output);
        // It is part of the document, has a name, and goes.
        self::assertEquals($back, BeatCodec::decode(BeatCodec::encode($back)));
        $named = RandomBeats::changed($back, [['type' => 'set-snapshot', 'id' => 'm1', 'name' => 'Warmer']]);
        self::assertSame('Warmer', $named->snapshot('m1')->name);
        self::assertSame([], RandomBeats::changed($named, [['type' => 'set-snapshot', 'id' => 'm1']])->snapshots);
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('at most 12 mixes that are kept');
        $this->changed(...array_map(static fn (int $i): array => ['type' => 'keep-mix', 'id' => 'm'.$i, 'name' => 'Mix '.$i], range(1, 13)));
    }

    public function testWithAKeptMixItSoundsAsItDidThen(): void
    {
        $kept = $this->changed(['type' => 'set', 'mixer/c1/gainDb' => -5.5], ['type' => 'keep-mix', 'id' => 'm1', 'name' => 'Then']);
        $now = RandomBeats::changed($kept, [['type' => 'set', 'mixer/c1/gainDb' => 6], ['type' => 'set', 'mixer/c2/pan' => 1]]);
        self::assertEquals($kept->mixer, Audition::of($now, 'mix/m1')->mixer);
        self::assertSame($now, Audition::of($now, ''));
        foreach (['mix/none' => 'kept no longer', 'band/c1/i1/9' => 'no longer there', 'band/c1/i2/1' => 'no longer there', 'loud' => 'hear must be'] as $hear => $says) {
            try {
                Audition::of($now, $hear);
                self::fail($hear.' was taken.');
            } catch (InvalidChange $e) {
                self::assertStringContainsString($says, $e->getMessage());
            }
        }
    }

    public function testABandIsHeardByItself(): void
    {
        $beat = $this->changed(['type' => 'set', 'under' => 'mixer/c1', 'mute' => 1, 'inserts/i1/bands/2/on' => 1, 'inserts/i1/bands/2/hz' => 1000, 'inserts/i1/bands/2/shape' => 'peak', 'inserts/i1/bands/2/q' => 2, 'inserts/i1/bands/2/gainDb' => 6]);
        $line = Audition::of($beat, 'band/c1/i1/2')->mixer->nodes['c1'];
        self::assertSame([true, false], [$line->solo, $line->mute]);
        $eq = $line->insert('i1');
        self::assertInstanceOf(EqualizerSettings::class, $eq);
        // Between the edges of the bell, which lie as far apart as its width says: half an octave at Q 2, and a little more.
        $at = static fn (float $hz): float => array_sum(array_map(static fn (EqBand $b): float => array_sum(array_map(static fn ($s): float => $s->responseDb($hz, 44100.0), $b->sections(44100.0))), $eq->bands));
        self::assertEqualsWithDelta(-3.0, $at(1000.0 / 1.281), 1.5);
        self::assertEqualsWithDelta(-3.0, $at(1000.0 * 1.281), 1.5);
        self::assertGreaterThan(-1.2, $at(1000.0));
        self::assertLessThan(-38.0, $at(250.0));
        self::assertSame([EqShape::LowPass], array_map(static fn (EqBand $b): EqShape => $b->shape, self::eq(Audition::of(RandomBeats::changed($beat, [['type' => 'set', 'mixer/c1/inserts/i1/bands/2/shape' => 'high-pass']]), 'band/c1/i1/2'))->bands));
        $room = RandomBeats::changed($beat, [['type' => 'add-node', 'kind' => 'return', 'id' => 'r1', 'name' => 'Room', 'from' => 'c2'], ['type' => 'add-insert', 'node' => 'r1', 'kind' => 'equalizer']]);
        self::assertFalse(Audition::of($room, 'band/r1/i1/2')->mixer->hasSolo(), 'what feeds a return must go on sounding');
        $mono = Audition::of($beat, 'mono')->mixer->master->inserts;
        self::assertSame(0.0, $mono[\count($mono) - 1]->settings()['width']);
        $master = Audition::of(RandomBeats::changed($beat, [['type' => 'set', 'under' => 'mixer/master', 'gainDb' => 7, 'inserts/i1/on' => 1]]), 'unmastered')->mixer->master;
        self::assertSame([0.0, 0.0, []], [$master->gainDb, $master->ceilingDb, array_filter($master->inserts, static fn ($i): bool => $i->acts())]);
    }

    public function testSettingsAreSetAsideSwappedAndForgotten(): void
    {
        $set = ['type' => 'set-aside', 'node' => 'c1', 'insert' => 'i2'];
        $two = $this->changed(['type' => 'set', 'under' => 'mixer/c1/inserts/i2', 'on' => 1, 'ratio' => 3], [...$set, 'what' => 'keep'], ['type' => 'set', 'mixer/c1/inserts/i2/ratio' => 8]);
        self::assertSame([8.0, 3.0], self::ratios($two));
        self::assertEquals($two, BeatCodec::decode(BeatCodec::encode($two)));
        $swapped = RandomBeats::changed($two, [[...$set, 'what' => 'swap']]);
        self::assertSame([3.0, 8.0], self::ratios($swapped));
        self::assertEquals($two, RandomBeats::changed($swapped, [[...$set, 'what' => 'swap']]));
        self::assertSame([], RandomBeats::changed($two, [[...$set, 'what' => 'forget']])->mixer->nodes['c1']->aside);
        self::assertSame([], RandomBeats::changed($two, [['type' => 'remove-insert', 'node' => 'c1', 'insert' => 'i2']])->mixer->nodes['c1']->aside);
        $this->expectException(InvalidChange::class);
        $this->changed([...$set, 'what' => 'swap']);
    }

    public function testALineMakesRoomByTimeOrByTone(): void
    {
        $room = $this->changed(['type' => 'make-room', 'node' => 'c2', 'for' => 'c1'], ['type' => 'make-room', 'node' => 'c2', 'for' => 'c1', 'hz' => 90]);
        [$ducker, $eq] = \array_slice($room->mixer->nodes['c2']->inserts, -2);
        self::assertInstanceOf(DuckerSettings::class, $ducker);
        self::assertInstanceOf(EqualizerSettings::class, $eq);
        self::assertSame(['c1', true], [$ducker->key(), $ducker->acts()]);
        self::assertEqualsWithDelta(-4.0, $eq->bands[0]->sections(44100.0)[0]->responseDb(90.0, 44100.0), 0.05);
        self::assertCount(\count($room->mixer->nodes['c2']->inserts), array_unique(array_map(static fn ($i): string => $i->id(), $room->mixer->nodes['c2']->inserts)));
    }

    public function testLinesChangePlacesWithTheirKind(): void
    {
        $order = static fn (Beat $b): array => array_map(strval(...), array_keys($b->mixer->nodes));
        $before = $order($this->beat);
        self::assertSame(['drums', 'c1', 'c2'], $before);
        $moved = $this->changed(['type' => 'move-line', 'node' => 'c1', 'by' => 1]);
        self::assertSame(['drums', 'c2', 'c1'], $order($moved));
        self::assertSame($order($moved), $order(BeatCodec::decode(BeatCodec::encode($moved))));
        self::assertSame($before, $order(RandomBeats::changed($moved, [['type' => 'move-line', 'node' => 'c1', 'by' => -1], ['type' => 'move-line', 'node' => 'c1', 'by' => -1]])));
    }

    public function testASilentPatternSteersAnInsert(): void
    {
        $steered = $this->changed(['type' => 'add-insert', 'node' => 'c2', 'kind' => 'ducker'], ['type' => 'steer-by-pattern', 'node' => 'c2', 'insert' => 'i3']);
        $key = (string) $steered->mixer->nodes['c2']->insert('i3')->key();
        self::assertTrue($steered->mixer->nodes[$key]->mute);
        $pads = array_values(array_filter($steered->kit->pads, static fn ($p): bool => $p->channel === $key));
        self::assertCount(1, $pads);
        self::assertSame('kick', $pads[0]->role->value);
        $ticks = array_values(array_map(static fn ($h): int => $h->tick, array_filter($steered->pattern('p1')->hits, static fn ($h): bool => $h->pad === $pads[0]->id)));
        self::assertSame(range(0, $steered->pattern('p1')->ticks - 1, 960), $ticks);
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('The kit has no sound yet');
        RandomBeats::changed(Beat::empty('None'), [['type' => 'add-insert', 'node' => 'drums', 'kind' => 'ducker'], ['type' => 'steer-by-pattern', 'node' => 'drums', 'insert' => 'i2']]);
    }

    private static function eq(Beat $beat): EqualizerSettings
    {
        $eq = $beat->mixer->nodes['c1']->insert('i1');

        return $eq instanceof EqualizerSettings ? $eq : throw new \LogicException('No equalizer.');
    }

    /** @return list<float> of the compressor, and of what is kept aside */
    private static function ratios(Beat $beat): array
    {
        $line = $beat->mixer->nodes['c1'];

        return array_map(static fn ($i): float => $i instanceof CompressorSettings ? $i->ratio : 0.0, [$line->insert('i2'), $line->aside['i2']]);
    }

    /** @param array<string, mixed> ...$changes */
    private function changed(array ...$changes): Beat
    {
        return RandomBeats::changed($this->beat, array_values($changes));
    }
}
