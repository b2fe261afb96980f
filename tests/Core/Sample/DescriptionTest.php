<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Kit\Role;
use Pestle\Core\Sample\BeatGrid;
use Pestle\Core\Sample\Counted;
use Pestle\Core\Sample\Description;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Sample\Slices;
use Pestle\Core\Theory\Meter;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DescriptionTest extends TestCase
{
    private const RATE = 44100;
    private const HEARD = ['kind' => 'loop', 'bpm' => 120.0, 'bpmSure' => 0.6, 'meter' => '4/4', 'meterSure' => 0.9, 'key' => 'D minor', 'keySure' => 0.8, 'material' => 'tones', 'tuning' => 20.0, 'downbeat' => 4410];

    /** @return iterable<string, array{string, float, string, int, float}> meter, its beats a minute, the beat's meter, lines in a bar, quarters a line */
    public static function meters(): iterable
    {
        yield 'four in four' => ['4/4', 90.0, '4/4', 4, 1.0];
        yield 'three in four' => ['3/4', 120.0, '4/4', 3, 1.0];
        yield 'twelve in twelve is dotted' => ['12/8', 90.0, '12/8', 4, 1.5];
        yield 'twelve in four is triplets' => ['12/8', 90.0, '4/4', 4, 1.0];
        yield 'slow six is two' => ['6/8', 60.0, '6/8', 2, 1.5];
        yield 'quick six is six' => ['6/8', 170.0, '6/8', 6, 0.5];
        yield 'nine' => ['9/8', 80.0, '6/8', 3, 1.5];
        yield 'seven eighths are eighths everywhere' => ['7/8', 180.0, '4/4', 7, 0.5];
    }

    #[DataProvider('meters')]
    public function testBeatsAreCountedAsTheMeterSays(string $meter, float $bpm, string $of, int $lines, float $quarters): void
    {
        $seconds = 2 * $lines * 60.0 / $bpm;
        $frames = (int) round($seconds * self::RATE);
        $is = new Description(['kind' => 'loop', 'bpm' => $bpm, 'meter' => $meter], [], $frames, self::RATE);
        self::assertSame([$lines, 2], [$is->beatsABar(), $is->bars()]);
        self::assertEqualsWithDelta($quarters, $is->quartersABeat(Meter::named($of)), 1e-12);
        $bars = Slices::onGrid($is->grid()?->lines($frames, self::RATE) ?? [], 1.0 / $is->beatsABar(), $frames)->markers;
        self::assertEqualsWithDelta([0, $frames / 2], $bars, 1.0);
        // What keeps time with a beat of its own tempo is as long as it was.
        $counted = new Counted($bpm * $quarters, $frames, self::RATE, 2, $lines * $quarters, $quarters);
        self::assertSame([], Fit::tempo($counted, $bpm * $quarters)->edits);
        [$edit] = Fit::follow($is->grid()?->lines($frames, self::RATE) ?? [], $counted, $bpm * $quarters, $frames)->edits;
        self::assertEqualsWithDelta($frames, $edit->length($frames), 1.0);
    }

    public function testWhatTheMakerSaysTakesThePlaceOfWhatWasHeard(): void
    {
        [$heard, $frames] = [self::HEARD, 12 * 22050];
        $is = self::said(...);
        self::assertSame([3, 0.9, 'D minor', true], [$is([])->bars(), $is([])->sure('meter'), $is([])->key(), $is([])->tuning()->isOff()]);
        self::assertSame([4, 1.0], [$is(['meter' => '3/4'])->bars(), $is(['meter' => '3/4'])->sure('meter')]);
        self::assertSame(['E minor', false], [$is(['key' => 'E minor'])->key(), $is(['key' => 'E minor'])->tuning()->isOff()]);
        self::assertEqualsWithDelta([60.0, 0.1], [$is(['bpm' => 60.0])->bpm(), $is(['bpm' => 60.0])->grid()?->seconds(0)], 1e-9);
        self::assertEqualsWithDelta(96.0, $is(['grid' => BeatGrid::even(96.0, 0.0)->encode()])->bpm(), 1e-6);
        self::assertSame([null, 1.0], [$is(['kind' => 'one-shot'])->bpm(), $is(['kind' => 'one-shot'])->sure('kind')]);
        // However sure a guess is, it is one.
        self::assertSame(0.99, (new Description(['meterSure' => 1.0] + $heard, [], $frames, self::RATE))->sure('meter'));
        // Hits have no key unless one is very sure of it.
        self::assertNull((new Description(['material' => 'hits'] + $heard, [], $frames, self::RATE))->key());
        self::assertSame('D minor', (new Description(['material' => 'hits', 'keySure' => 0.99] + $heard, [], $frames, self::RATE))->key());
    }

    public function testTheRoleIsWhatItWasToldElseThatOfItsFirstHit(): void
    {
        $hit = [[0, 'open hat', 0.9, 1.0]];
        self::assertSame(Role::OpenHat, (new Description(['hits' => $hit], [], 44100, self::RATE))->role());
        self::assertSame(Role::Snare, (new Description(['hits' => $hit, 'role' => 'snare'], [], 44100, self::RATE))->role());
        self::assertSame(Role::Kick, (new Description(['hits' => $hit, 'role' => 'snare'], ['role' => 'kick'], 44100, self::RATE))->role());
        self::assertSame(Role::Tonal, (new Description(['kind' => 'loop', 'hits' => $hit], [], 44100, self::RATE))->role());
        self::assertSame([Role::Effect, Role::Percussion], [Description::roleOf('other'), Description::roleOf('rim')]);
    }

    /** @param array<string, string|float> $said of six seconds of a loop */
    private static function said(array $said): Description
    {
        return new Description(self::HEARD, $said, 12 * 22050, self::RATE);
    }
}
