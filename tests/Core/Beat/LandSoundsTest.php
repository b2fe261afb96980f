<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Mix\NodeKind;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** Several sounds that come to a pad, in each of the ways that can be meant; and one recording in another's place. */
final class LandSoundsTest extends TestCase
{
    public function testOnFreePadsOrInThePlaceOfWhatIsThere(): void
    {
        $free = self::landed('free');
        self::assertSame(['a1' => 'There', 'a2' => 'Loud', 'a3' => 'Soft', 'a4' => 'Middle'], self::names($free));
        self::assertCount(4, $free->mixer->of(NodeKind::Channel));
        self::assertSame('3 sounds on pads', Changes::read(self::landing('free'))->label($free));
        self::assertSame(['a1' => 'Loud', 'a2' => 'Soft', 'a3' => 'Middle'], self::names(self::landed('replace')));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('3 sounds, but only 2 free pads from this one on.');
        Changes::read([...self::landing('free'), 'pad' => 'a14'])->apply(self::beat());
    }

    public function testStackedInOnePad(): void
    {
        $pad = self::landed('stack')->pad('a1');
        self::assertSame('There', $pad->name);
        self::assertSame([1, 4], [\count($pad->strengths()), \count($pad->answering(20))], 'all of them answer, however softly');
        $new = Changes::read([...self::landing('stack'), 'pad' => 'a5'])->apply(self::beat())->pad('a5');
        self::assertSame(['Loud', 3], [$new->name, \count($new->layers)]);
    }

    public function testByStrengthTheQuietestAnswersTheSoftest(): void
    {
        $beat = self::landed('strength');
        $pad = $beat->pad('a1');
        self::assertSame(['Loud', str_repeat('a', 64)], [$pad->name, $pad->shown()->sample], 'known by what answers hard strikes');
        self::assertSame([43, 85, 127], $pad->strengths());
        $answer = static fn (int $velocity): string => implode(' ', array_map(static fn (array $a): string => $a[0]->sample[0], $pad->answering($velocity)));
        self::assertSame(['b', 'b', 'c', 'c', 'a', 'a'], array_map($answer, [1, 43, 44, 85, 86, 127]));
        self::assertEquals($beat, BeatCodec::decode(BeatCodec::encode($beat)));
        // A single sound put on it takes the place of them all.
        $one = RandomBeats::changed($beat, [['type' => 'fill-pad', 'pad' => 'a1', 'sample' => str_repeat('d', 64), 'name' => 'One', 'role' => 'snare', 'start' => 0, 'end' => 50]]);
        self::assertSame([1, 1], [\count($one->pad('a1')->layers), \count($one->pad('a1')->answering(1))]);
        $this->expectExceptionMessage('A pad holds at most 64 sounds.');
        RandomBeats::changed($beat, array_fill(0, 22, [...self::landing('stack')]));
    }

    /** @param list<string> $names */
    #[TestWith([['Snare v1', 'Snare v2', 'Snare v3'], 'Snare'])]
    #[TestWith([['rim_shot-01', 'rim_shot-02', 'rim_shot-12'], 'rim_shot'])]
    #[TestWith([['Tin soft', 'Tin hard', 'Tin'], 'Tin'])]
    #[TestWith([['Oak', 'Ash', 'Elm'], 'Elm'])]
    #[TestWith([['Ö1', 'Ö2', 'Öl'], 'Öl'])]
    public function testAPadIsCalledWhatItsSoundsHaveInCommon(array $names, string $called): void
    {
        $sounds = [];
        foreach ($names as $i => $name) {
            $sounds[] = ['sample' => str_repeat((string) $i, 64), 'name' => $name, 'frames' => 100, 'role' => 'snare', 'peakDb' => $i - 20];
        }
        foreach (['strength', 'turn'] as $how) {
            self::assertSame($called, RandomBeats::changed(Beat::empty('Names'), [['type' => 'land-sounds', 'pad' => 'a3', 'how' => $how, 'sounds' => $sounds]])->pad('a3')->name);
        }
    }

    public function testARecordingTakesThePlaceOfAnother(): void
    {
        [$old, $new] = [str_repeat('a', 64), str_repeat('e', 64)];
        $beat = RandomBeats::changed(Beat::empty('Exchange'), [
            ['type' => 'set-slices', 'sample' => $old, 'markers' => [0, 2000, 6000]],
            ['type' => 'set-slice', 'sample' => $old, 'frames' => 8000, 'slice' => 1, 'name' => 'Mid', 'end' => 7000],
            ['type' => 'slices-to-pads', 'sample' => $old, 'name' => 'Rain', 'frames' => 8000, 'rate' => 44100, 'role' => 'tonal', 'bars' => 1],
        ]);
        $exchange = ['type' => 'exchange-sample', 'sample' => $old, 'frames' => 8000, 'name' => 'Rain', 'with' => $new, 'withFrames' => 10000, 'withName' => 'Hail', 'edits' => [['kind' => 'keep', 'from' => 0, 'to' => 4000]]];
        $after = RandomBeats::changed($beat, [$exchange]);
        self::assertSame([[$new, 'Hail 1', 0, 1000], [$new, 'Mid', 1000, 3500], [$new, 'Hail 3', 3000, 4000]], array_values(array_map(static fn (Pad $p): array => [$p->main()->sample, $p->name, $p->main()->start, $p->main()->end], $after->kit->pads)));
        self::assertEquals($beat->patterns, $after->patterns);
        self::assertSame([[0, 1000, 3000], 'Mid'], [$after->slices[$new]->markers, $after->slices[$new]->of(1)->name]);
        self::assertSame('Hail in place of Rain', Changes::read($exchange)->label($beat));
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage('Hail plays in this beat already (pad Hail 1)');
        RandomBeats::changed($after, [[...$exchange, 'sample' => str_repeat('f', 64)]]);
    }

    private static function landed(string $how): Beat
    {
        return Changes::read(self::landing($how))->apply(self::beat());
    }

    /** @return array<string, mixed> */
    private static function landing(string $how): array
    {
        return ['type' => 'land-sounds', 'pad' => 'a1', 'how' => $how, 'sounds' => [
            ['sample' => str_repeat('a', 64), 'name' => 'Loud', 'frames' => 100, 'role' => 'snare', 'peakDb' => -1.0],
            ['sample' => str_repeat('b', 64), 'name' => 'Soft', 'frames' => 100, 'role' => 'snare', 'peakDb' => -20.0],
            ['sample' => str_repeat('c', 64), 'name' => 'Middle', 'frames' => 100, 'role' => 'snare', 'peakDb' => -9.0],
        ]];
    }

    private static function beat(): Beat
    {
        return RandomBeats::changed(Beat::empty('Land'), [['type' => 'fill-pad', 'pad' => 'a1', 'sample' => str_repeat('9', 64), 'name' => 'There', 'role' => 'kick', 'start' => 0, 'end' => 90]]);
    }

    /** @return array<string, string> */
    private static function names(Beat $beat): array
    {
        return array_map(static fn (Pad $p): string => $p->name, $beat->kit->pads);
    }
}
