<?php

namespace Pestle\Tests\Core\Sample;

use Pestle\Core\Sample\Counted;
use Pestle\Core\Sample\Fit;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Tuning;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FitTest extends TestCase
{
    /** @return iterable<string, array{float, float, int, float|null, string}> loop's tempo, beat's, bars, percent, words */
    public static function tempi(): iterable
    {
        yield 'slower' => [96.0, 90.0, 2, 106.667, '96 → 90 BPM, now 2 bars long'];
        yield 'faster' => [90.0, 120.0, 4, 75.0, '90 → 120 BPM, now 4 bars long'];
        yield 'taken for half the tempo' => [86.0, 172.0, 2, null, 'Fits as it is: 172 BPM, 4 bars'];
        yield 'nearly' => [86.2, 86.0, 4, 100.23, '86.2 → 86 BPM, now 4 bars long'];
    }

    #[DataProvider('tempi')]
    public function testTempo(float $bpm, float $beat, int $bars, ?float $percent, string $words): void
    {
        $frames = (int) round(44100 * 240 / $bpm * $bars);
        $fit = Fit::tempo(new Counted($bpm, $frames, 44100, $bars), $beat);
        self::assertSame($words, $fit->words);
        if (null === $percent) {
            self::assertSame([], $fit->edits);
        } else {
            self::assertEqualsWithDelta($percent, $fit->edits[0]->settings['percent'], 0.01);
            // Whole bars of the beat to a frame or two.
            self::assertEqualsWithDelta(44100 * 240 / $beat * $bars, $fit->edits[0]->length($frames), 2);
        }
    }

    public function testHalfAndDoubleTime(): void
    {
        $frames = 44100 * 4;
        self::assertEqualsWithDelta(200.0, Fit::tempo(new Counted(120.0, $frames, 44100, 2), 120.0, 2)->edits[0]->settings['percent'], 1e-6);
        self::assertEqualsWithDelta(50.0, Fit::tempo(new Counted(120.0, $frames, 44100, 2), 120.0, -2)->edits[0]->settings['percent'], 1e-6);
        $far = Fit::tempo(new Counted(90.0, $frames, 44100), 120.0, -2);
        self::assertSame([], $far->edits);
        self::assertStringContainsString('stretching goes from 50 to 200 %', (string) $far->snag);
    }

    public function testExactlySoManyBars(): void
    {
        $fit = Fit::bars(2, 4.0, 100.0, 44100 * 4, 44100);
        self::assertSame('Now 2 bars at 100 BPM', $fit->words);
        self::assertSame((int) (44100 * 4.8), $fit->edits[0]->length(44100 * 4));
        self::assertNotNull(Fit::bars(16, 4.0, 60.0, 44100, 44100)->snag);
    }

    public function testKeyGoesTheShorterWayOrTheOther(): void
    {
        $way = static fn (string $from, string $to, bool $shorter = true): float => (float) (Fit::key(Key::named($from), Key::named($to), $shorter)->edits[0]->settings['cents'] ?? 0.0);
        self::assertSame(300.0, $way('A minor', 'C minor'));
        self::assertSame(-900.0, $way('A minor', 'C minor', false));
        self::assertSame(-200.0, $way('D major', 'C major'));
        self::assertSame(600.0, $way('C minor', 'F# minor'));
        // A minor key fits its related major as it is.
        self::assertSame([], Fit::key(Key::named('A minor'), Key::named('C major'))->edits);
        self::assertSame(-100.0, $way('C major', 'G# minor'));
        self::assertSame('A minor → C minor, up 3 semitones', Fit::key(Key::named('A minor'), Key::named('C minor'))->words);
        // A record that turns too fast: it is brought in tune on the way.
        $sharp = Fit::key(Key::named('A minor'), Key::named('C minor'), tuning: Tuning::cents(134.0));
        self::assertSame([266.0, 'A minor, 34 cents sharp → C minor, up 3 semitones'], [$sharp->edits[0]->settings['cents'], $sharp->words]);
        self::assertSame([20.0], array_values(Fit::key(Key::named('D minor'), Key::named('D minor'), tuning: Tuning::cents(-20.0))->edits[0]->settings));
        self::assertSame([], Fit::key(Key::named('D minor'), Key::named('D minor'), tuning: Tuning::cents(4.0))->edits);
        self::assertSame('B minor → Bb minor, down 1 semitone', Fit::key(Key::named('B minor'), Key::named('A# minor'))->words);
    }

    public function testANoteGoesToTheNearestOfTheChord(): void
    {
        $up = Fit::note(43.7, 0, 4, 7);
        self::assertSame(-70.0, $up->edits[0]->settings['cents'] ?? null, 'to the G below');
        self::assertSame('Tuned down 0.70 semitones to G', $up->words);
        self::assertSame('Fits as it is: C is in the chord', Fit::note(60.02, 0, 3, 7)->words);
        self::assertSame(40.0, Fit::note(59.6, 0, 4, 7)->edits[0]->settings['cents'] ?? null);
    }

    public function testFitsAddUp(): void
    {
        $both = Fit::tempo(new Counted(90.0, 44100 * 8, 44100), 100.0)->and(Fit::key(Key::named('D minor'), Key::named('E minor')));
        self::assertCount(2, $both->edits);
        self::assertStringContainsString('; D minor → E minor, up 2 semitones', $both->words);
    }
}
