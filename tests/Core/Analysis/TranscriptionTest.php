<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\HeardNote;
use Pestle\Core\Analysis\Transcription;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Pattern\Note;
use Pestle\Core\Pattern\Phrase;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Theory\Key;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Notes that are heard in lines and chords, against what was played: start within 50 ms and the right semitone. */
final class TranscriptionTest extends TestCase
{
    private const RATE = 44100;

    /** @return iterable<string, array{float, list<array{int, float}>, AudioSource}> least F, what was played, and its sound */
    public static function played(): iterable
    {
        $low = self::line([40, 43, 45, 40, 47, 52, 50, 45, 43, 41, 40, 55], 0.25);
        yield 'a low line on a piano' => [0.95, $low, self::piano($low, 0.24)];
        $high = self::line([72, 74, 76, 79, 77, 72, 69, 71, 72, 65, 67, 64], 0.19);
        yield 'a quick line on a piano' => [0.9, $high, self::piano($high, 0.18)];
        $three = self::chords([[50, 53, 57], [46, 50, 53], [55, 58, 62], [57, 61, 64], [50, 57, 65]], 0.8);
        yield 'chords of three on a piano' => [0.85, $three, self::piano($three, 0.76)];
        $two = self::chords([[50, 57], [55, 59], [48, 55], [52, 57], [53, 62], [45, 52]], 0.5);
        yield 'chords of two on a piano' => [0.85, $two, self::piano($two, 0.47)];
        $saw = self::line([48, 60, 55, 51, 63, 58, 60, 48], 0.3);
        yield 'a line of saws, a third of a semitone sharp' => [0.95, $saw, self::tones($saw, 0.28, 0.34, static fn (int $h): float => 1.0 / $h)];
        yield 'a line of odd harmonics, nearly half a semitone flat' => [0.95, $saw, self::tones($saw, 0.28, -0.44, static fn (int $h): float => 1 === $h % 2 ? 1.0 / $h : 0.0)];
        $legato = self::line([57, 60, 62, 64, 60, 57], 0.35);
        yield 'a line that goes on without a stroke' => [0.9, $legato, self::tones($legato, 0.35, 0.0, static fn (int $h): float => $h ** -1.5)];
    }

    /** @param list<array{int, float}> $truth */
    #[DataProvider('played')]
    public function testNotesAreHeard(float $least, array $truth, AudioSource $source): void
    {
        $heard = Transcription::of($source);
        $hit = $used = [];
        foreach ($truth as $k => [$pitch, $at]) {
            foreach ($heard as $i => $note) {
                if (!isset($used[$i]) && $note->pitch === $pitch && abs($note->start - $at) <= 0.05) {
                    $hit[$k] = $used[$i] = true;
                    break;
                }
            }
        }
        $f = 2.0 * \count($hit) / (\count($heard) + \count($truth));
        self::assertGreaterThanOrEqual($least, $f, \sprintf('%d of %d were heard, %d in all', \count($hit), \count($truth), \count($heard)));
        foreach ($heard as $note) {
            self::assertGreaterThan($note->start, $note->end);
            self::assertTrue($note->velocity >= 1 && $note->velocity <= 127 && $note->confidence >= 0.0 && $note->confidence <= 1.0);
        }
    }

    public function testSilenceNoiseAndNothingHoldNoNotes(): void
    {
        $noise = array_map(static fn (float $x): float => 0.3 * $x, (new Noise(4))->block(self::RATE));
        self::assertSame([], Transcription::of(self::source(array_fill(0, self::RATE, 0.0))));
        self::assertSame([], Transcription::of(self::source([])));
        self::assertLessThan(6, \count(Transcription::of(self::source($noise), 1)));
    }

    public function testAPhraseKeepsWhatIsWished(): void
    {
        $heard = [new HeardNote(0.0, 0.9, 50, 90, 0.9), new HeardNote(0.01, 0.9, 57, 80, 0.7), new HeardNote(0.0, 0.45, 66, 60, 0.3), new HeardNote(1.02, 1.4, 61, 100, 0.8)];
        $pitches = static fn (Phrase $p): array => array_map(static fn (HeardNote $n): int => $n->pitch, $p->kept($heard));
        self::assertSame([50, 57, 66, 61], $pitches(new Phrase()));
        self::assertSame([50, 57, 61], $pitches(new Phrase(0.5)));
        self::assertSame([50, 61], $pitches(new Phrase(keep: 'lowest')));
        self::assertSame([66, 61], $pitches(new Phrase(keep: 'highest')));
        self::assertSame([57, 61], $pitches(new Phrase(0.5, low: 55, high: 62)));
        $rows = static fn (Phrase $p): array => array_map(static fn (Note $n): array => [$n->tick, $n->pitch, $n->length], $p->notes($heard, static fn (float $s): float => 2.0 * $s));
        self::assertSame([[0, 50, 1728], [1958, 61, 730]], $rows(new Phrase(keep: 'lowest')), 'at 120 BPM, as played');
        self::assertSame([[0, 50, 1680], [1920, 61, 720]], $rows(new Phrase(keep: 'lowest', grid: 240)));
        self::assertSame([[0, 38, 1680], [1920, 48, 720]], $rows(new Phrase(keep: 'lowest', scale: Key::named('D minor')->scale(), grid: 240, octaves: -1)), 'the nearest of the scale, an octave lower');
    }

    /**
     * @param list<int> $pitches
     *
     * @return list<array{int, float}>
     */
    private static function line(array $pitches, float $apart): array
    {
        return array_map(static fn (int $i): array => [$pitches[$i], 0.1 + $i * $apart], array_keys($pitches));
    }

    /**
     * @param list<list<int>> $chords
     *
     * @return list<array{int, float}>
     */
    private static function chords(array $chords, float $apart): array
    {
        $notes = [];
        foreach ($chords as $i => $chord) {
            foreach ($chord as $pitch) {
                $notes[] = [$pitch, 0.1 + $i * $apart];
            }
        }

        return $notes;
    }

    /** @param list<array{int, float}> $notes */
    private static function piano(array $notes, float $length): AudioSource
    {
        return new MemorySource((new OldPiano(self::RATE))->recording(array_map(static fn (array $n): array => [$n[0], $n[1], $length, 70 + ($n[0] * 7) % 40], $notes), $notes[\count($notes) - 1][1] + $length + 0.4), self::RATE);
    }

    /**
     * @param list<array{int, float}> $notes
     * @param \Closure(int): float    $level of each harmonic
     */
    private static function tones(array $notes, float $length, float $off, \Closure $level): AudioSource
    {
        $noise = new Noise(9);
        $out = array_map(static fn (float $x): float => 0.002 * $x, $noise->block((int) (self::RATE * ($notes[\count($notes) - 1][1] + $length + 0.2))));
        $phase = 0.0;
        foreach ($notes as [$pitch, $at]) {
            $hz = 440.0 * 2.0 ** (($pitch + $off - 69) / 12);
            for ($i = 0, $n = (int) ($length * self::RATE), $first = (int) ($at * self::RATE); $i < $n; ++$i) {
                $phase += 2 * \M_PI * $hz / self::RATE;
                $sum = 0.0;
                for ($h = 1; $h * $hz < 6000.0 && $h < 16; ++$h) {
                    $sum += $level($h) * sin($h * $phase);
                }
                $out[$first + $i] += 0.25 * $sum * min(1.0, $i / 200, ($n - $i) / 200);
            }
        }

        return self::source(array_values($out));
    }

    /** @param list<float> $values */
    private static function source(array $values): AudioSource
    {
        return new MemorySource(new StereoBlock($values, $values), self::RATE);
    }
}
