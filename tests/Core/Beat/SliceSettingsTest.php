<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is said of single slices goes with them: to pads, through edits, into the document. */
final class SliceSettingsTest extends TestCase
{
    private const SAMPLE = 'dd112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';
    private const FRAMES = 88200;

    public function testASliceMayOverlapTheNextAndTurnAround(): void
    {
        $beat = self::said([['slice' => 1, 'end' => 60000, 'name' => 'Long tail', 'role' => 'cymbal'], ['slice' => 2, 'reversed' => 1, 'gainDb' => -6]]);
        self::assertSame([[0, 22050], [22050, 60000], [44100, 66150], [66150, 88200]], $beat->slices[self::SAMPLE]->regions(self::FRAMES));
        $kit = RandomBeats::changed($beat, [self::toPads()]);
        self::assertSame(['Long tail', Role::Cymbal, 60000], [$kit->pad('a1')->name, $kit->pad('a1')->role, $kit->pad('a1')->main()->end]);
        self::assertSame(['Loop 3', true, -6.0], [$kit->pad('a2')->name, $kit->pad('a2')->main()->reversed, $kit->pad('a2')->levelDb]);
        // The pattern that replays it lets the long one go where the next begins: nothing sounds twice.
        self::assertSame([960, 960, 960, 960], array_map(static fn (Hit $h): int => $h->length, $kit->pattern('p2')->hits));
        // In an order of one's own it is as long as it is.
        $order = RandomBeats::changed($kit, [[...self::toPads(), 'type' => 'arrange-slices', 'order' => [1, 0]]]);
        self::assertSame([1652, 960], array_map(static fn (Hit $h): int => $h->length, $order->pattern('p3')->hits));
        self::assertEquals($order, BeatCodec::decode(BeatCodec::encode($order)));
    }

    public function testAPadThatPlaysTheSliceGoesWithIt(): void
    {
        $kit = RandomBeats::changed(self::said([]), [self::toPads(), ['type' => 'set-pad', 'pad' => 'a0', 'levelDb' => 2.0]]);
        $said = RandomBeats::changed($kit, [self::say(['slice' => 0, 'name' => 'Opening', 'role' => 'kick', 'gainDb' => 3, 'reversed' => 1, 'end' => 30000])]);
        $pad = $said->pad('a0');
        self::assertSame(['Opening', Role::Kick, 5.0, true, 30000], [$pad->name, $pad->role, $pad->levelDb, $pad->main()->reversed, $pad->main()->end]);
        self::assertEquals($kit->pad('a1'), $said->pad('a1'));
        // To the next again.
        self::assertSame(22050, RandomBeats::changed($said, [self::say(['slice' => 0, 'end' => null])])->pad('a0')->main()->end);
    }

    public function testItStaysWithItsSlice(): void
    {
        $beat = self::said([['slice' => 1, 'name' => 'Second'], ['slice' => 2, 'end' => 70000]]);
        $slices = static fn (Beat $b): array => array_map(static fn (int $i): string => $b->slices[self::SAMPLE]->of($i)->name, array_keys($b->slices[self::SAMPLE]->markers));
        // A marker added before it, itself moved, another one gone.
        self::assertSame(['', '', 'Second', '', ''], $slices(self::sliced($beat, [0, 9000, 22050, 44100, 66150])));
        self::assertSame(['', 'Second', '', ''], $slices(self::sliced($beat, [0, 25000, 44100, 66150])));
        self::assertSame(['', 'Second', ''], $slices(self::sliced($beat, [0, 22050, 66150])));
        // Stretched to double length it is found there; its own end as well.
        $long = RandomBeats::changed($beat, [['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => self::FRAMES, 'edits' => [['kind' => 'stretch', 'percent' => 200]]]]);
        self::assertSame(['', 'Second', '', ''], $slices($long));
        self::assertSame(140000, $long->slices[self::SAMPLE]->of(2)->end);
        // Kept as a set and taken up again it is the same.
        $set = RandomBeats::changed($beat, [['type' => 'slice-set', 'sample' => self::SAMPLE, 'how' => 'keep', 'name' => 'Mine'], ['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => [0]], ['type' => 'slice-set', 'sample' => self::SAMPLE, 'how' => 'use', 'name' => 'Mine']]);
        self::assertSame(['', 'Second', '', ''], $slices(BeatCodec::decode(BeatCodec::encode($set))));
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function nonsense(): iterable
    {
        yield 'no such slice' => [['slice' => 9, 'name' => 'x'], 'slice must be one of 4 slices'];
        yield 'end before start' => [['slice' => 2, 'end' => 500], 'end must lie after the start of the slice (44100)'];
        yield 'end outside' => [['slice' => 2, 'end' => 99999], 'within the sample (88200)'];
        yield 'too loud' => [['slice' => 2, 'gainDb' => 30], 'gainDb must be a number from -60 to 12.'];
        yield 'nothing' => [['slice' => 2], 'Nothing to say'];
    }

    /** @param array<string, mixed> $fields */
    #[DataProvider('nonsense')]
    public function testNonsenseIsRefused(array $fields, string $words): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($words);
        RandomBeats::changed(self::said([]), [self::say($fields)]);
    }

    /** @param list<array<string, mixed>> $settings */
    private static function said(array $settings): Beat
    {
        return RandomBeats::changed(self::sliced(RandomBeats::changed(Beat::empty('Said'), [['type' => 'set-tempo', 'bpm' => 120]]), [0, 22050, 44100, 66150]), array_map(self::say(...), $settings));
    }

    /** @param list<int> $markers */
    private static function sliced(Beat $beat, array $markers): Beat
    {
        return RandomBeats::changed($beat, [['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => $markers]]);
    }

    /**
     * @param array<string, mixed> $fields
     *
     * @return array<string, mixed>
     */
    private static function say(array $fields): array
    {
        return ['type' => 'set-slice', 'sample' => self::SAMPLE, 'frames' => self::FRAMES, ...$fields];
    }

    /** @return array<string, mixed> */
    private static function toPads(): array
    {
        return ['type' => 'slices-to-pads', 'sample' => self::SAMPLE, 'name' => 'Loop', 'frames' => self::FRAMES, 'rate' => 44100, 'role' => 'tonal', 'bars' => 1];
    }
}
