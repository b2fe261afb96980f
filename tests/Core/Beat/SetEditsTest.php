<?php

namespace Pestle\Tests\Core\Beat;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Changes;
use Pestle\Core\Beat\InvalidChange;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SetEditsTest extends TestCase
{
    private const SAMPLE = 'aa112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';
    private const FRAMES = 40000;

    public function testSlicesAndPadsStayOnTheirSound(): void
    {
        $beat = self::edited(self::beat(), [['kind' => 'keep', 'from' => 10000, 'to' => 40000], ['kind' => 'stretch', 'percent' => 200]]);
        self::assertSame([0, 20000, 40000], $beat->slices[self::SAMPLE]->markers);
        self::assertSame([20000, 40000], [$beat->pad('a0')->main()->start, $beat->pad('a0')->main()->end]);
        // Taken off again, they are where they were; what had been cut away comes back without its marker.
        $back = self::edited($beat, []);
        self::assertSame([10000, 20000, 30000], $back->slices[self::SAMPLE]->markers);
        self::assertSame([20000, 30000], [$back->pad('a0')->main()->start, $back->pad('a0')->main()->end]);
        self::assertSame([], $back->edits);
    }

    public function testTurnedRoundTheEndBecomesTheStart(): void
    {
        $beat = self::edited(self::beat(), [['kind' => 'reverse']]);
        self::assertSame([0, 10000, 20000, 30000], $beat->slices[self::SAMPLE]->markers);
        self::assertSame([10000, 20000], [$beat->pad('a0')->main()->start, $beat->pad('a0')->main()->end]);
        // The other pad's part was cut away: it plays what lies there now, and stays a pad.
        $cut = self::edited(self::beat(), [['kind' => 'keep', 'from' => 0, 'to' => 5000]]);
        self::assertLessThanOrEqual(5000, $cut->pad('a0')->main()->start);
        self::assertGreaterThan($cut->pad('a0')->main()->start, $cut->pad('a0')->main()->end);
    }

    public function testWhatItSoundsLikeHasAName(): void
    {
        $beat = self::beat();
        self::assertSame(self::SAMPLE, $beat->sound(self::SAMPLE));
        $loud = self::edited($beat, [['kind' => 'gain', 'db' => 3]]);
        self::assertStringStartsWith(self::SAMPLE.'|[{', $loud->sound(self::SAMPLE));
        self::assertSame(self::SAMPLE, self::edited($beat, [['kind' => 'gain', 'db' => 3, 'on' => 0]])->sound(self::SAMPLE));
        self::assertEquals($loud, BeatCodec::decode(BeatCodec::encode($loud)));
    }

    public function testTheHistoryNamesWhatWasDone(): void
    {
        $beat = self::beat();
        $label = static fn (Beat $beat, array $edits): string => Changes::read(self::change($edits))->label($beat);
        $gain = ['kind' => 'gain', 'db' => 3];
        $fade = ['kind' => 'fade-in', 'shape' => 's', 'from' => 0, 'to' => 500];
        foreach ([
            [[$gain], 'Gain +3.0 dB'], [[['kind' => 'normalise', 'measure' => 'loudness', 'db' => -14]], 'Normalise to -14.0 LUFS'],
            [[$fade], 'Fade in, S-shaped'], [[['kind' => 'pitch', 'cents' => -300]], 'Pitch -3 semitones'], [[['kind' => 'stretch', 'percent' => 87.5]], 'Stretch to 87.5 %'],
            [[['kind' => 'speed', 'percent' => 133]], 'Speed 133 %'], [[['kind' => 'converter', 'bits' => 12, 'rate' => 26000, 'filters' => 0]], 'Old converter, 12 bit, 26 kHz, no filters'],
            [[['kind' => 'mono', 'side' => 'left']], 'Mono from the left'], [[['kind' => 'cut', 'from' => 5, 'to' => 9]], 'Cut out'],
        ] as [$edits, $words]) {
            self::assertSame($words, $label($beat, $edits));
        }
        $two = self::edited($beat, [$gain, $fade]);
        self::assertSame('Order of edits', $label($two, [$fade, $gain]));
        self::assertSame('Take off an edit', $label($two, [$gain]));
        self::assertSame('Edit of a sample', $label($two, [$gain, [...$fade, 'on' => 0]]));
    }

    /** @return iterable<string, array{array<string, mixed>, string}> */
    public static function nonsense(): iterable
    {
        yield 'no such kind' => [['kind' => 'melt'], 'kind must be one of: keep, cut'];
        yield 'gain' => [['kind' => 'gain', 'db' => 99], 'db must be a number from -60 to 40.'];
        yield 'measure' => [['kind' => 'normalise', 'measure' => 'ear', 'db' => -1], 'measure must be one of: peak, loudness.'];
        yield 'shape' => [['kind' => 'fade-out', 'shape' => 'round'], 'shape must be one of: straight, slow, fast, s.'];
        yield 'pitch' => [['kind' => 'pitch', 'cents' => 1300], 'cents must be a number from -1200 to 1200.'];
        yield 'stretch' => [['kind' => 'stretch', 'percent' => 20], 'percent must be a number from 25 to 400.'];
        yield 'material' => [['kind' => 'stretch', 'percent' => 90, 'material' => 'soup'], 'material must be one of: hits, tones.'];
        yield 'converter' => [['kind' => 'converter', 'bits' => 1, 'rate' => 8000, 'filters' => 1], 'bits must be a whole number from 2 to 16.'];
        yield 'side' => [['kind' => 'mono', 'side' => 'top'], 'side must be one of: sum, left, right.'];
        yield 'selection' => [['kind' => 'reverse', 'from' => 500, 'to' => 400], 'to must lie after the start of the selection.'];
    }

    /** @param array<string, mixed> $edit */
    #[DataProvider('nonsense')]
    public function testNonsenseIsRefusedByField(array $edit, string $message): void
    {
        $this->expectException(InvalidChange::class);
        $this->expectExceptionMessage($message);
        self::edited(self::beat(), [$edit]);
    }

    public function testSlicesCarryTheirRolesToThePads(): void
    {
        $change = Changes::read(['type' => 'slices-to-pads', 'sample' => self::SAMPLE, 'name' => 'Drums', 'frames' => self::FRAMES, 'rate' => 44100, 'role' => 'tonal', 'roles' => [['role' => 'kick'], ['role' => 'snare']]]);
        $beat = $change->apply(self::beat());
        self::assertSame(['kick', 'snare', 'tonal'], [$beat->pad('b0')->role->value, $beat->pad('b1')->role->value, $beat->pad('b2')->role->value]);
    }

    private static function beat(): Beat
    {
        $beat = Beat::empty('Edits');
        foreach ([
            ['type' => 'set-slices', 'sample' => self::SAMPLE, 'markers' => [0, 10000, 20000, 30000]],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => self::SAMPLE, 'name' => 'Third', 'role' => 'tonal', 'start' => 20000, 'end' => 30000],
        ] as $change) {
            $beat = Changes::read($change)->apply($beat);
        }

        return $beat;
    }

    /** @param list<array<string, mixed>> $edits */
    private static function edited(Beat $beat, array $edits): Beat
    {
        return Changes::read(self::change($edits))->apply($beat);
    }

    /**
     * @param array<mixed> $edits
     *
     * @return array<string, mixed>
     */
    private static function change(array $edits): array
    {
        return ['type' => 'set-edits', 'sample' => self::SAMPLE, 'frames' => self::FRAMES, 'edits' => $edits];
    }
}
