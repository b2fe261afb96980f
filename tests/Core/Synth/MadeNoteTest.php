<?php

namespace Pestle\Tests\Core\Synth;

use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Synth\MadeNote;
use Pestle\Core\Synth\MadeSounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Notes of made sounds before their shape and tone: in tune, without what folds back, the same wherever they are read. */
final class MadeNoteTest extends TestCase
{
    private const SIZE = 65_536;

    /** @return iterable<string, array{list<Wave>}> */
    public static function periodic(): iterable
    {
        yield 'saw' => [[new Wave(WaveKind::Saw)]];
        yield 'pulse' => [[new Wave(WaveKind::Pulse, width: 32.0)]];
        yield 'triangle' => [[new Wave(WaveKind::Triangle)]];
        yield 'partials' => [[new Wave(WaveKind::Partials, partials: array_fill(0, 64, 0.5))]];
        yield 'bent' => [[new Wave(WaveKind::Sine), new Wave(WaveKind::Sine, WaveActs::Bends, times: 2, depth: 5.0)]];
        yield 'a bent saw' => [[new Wave(WaveKind::Saw), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 3.0)]];
        yield 'restarted' => [[new Wave(WaveKind::Saw, semitones: 7), new Wave(WaveKind::Sine, WaveActs::Restarts)]];
        yield 'multiplied' => [[new Wave(WaveKind::Saw), new Wave(WaveKind::Saw, WaveActs::Multiplies, times: 1, depth: 1.0)]];
    }

    /**
     * Between the partials of a note nothing lies that is less than 80 dB under the strongest, up to 16 kHz.
     *
     * @param list<Wave> $waves
     */
    #[DataProvider('periodic')]
    public function testNothingFoldsBack(array $waves): void
    {
        foreach ([36, 60, 84, 96] as $pitch) {
            $spectrum = self::spectrum($waves, $pitch);
            $most = max([0.0, ...$spectrum]);
            $bin = 44100 / self::SIZE;
            $hz = 440.0 * 2.0 ** (($pitch - 69) / 12.0);
            $between = 0.0;
            for ($k = (int) (30 / $bin); $k < 16_000 / $bin; ++$k) {
                $harmonic = $k * $bin / $hz;
                if (abs($harmonic - round($harmonic)) * $hz / $bin > 8.0) {
                    $between = max($between, $spectrum[$k]);
                }
            }
            self::assertLessThan(-80.0, 20.0 * log10($between / $most), "note $pitch");
            self::assertGreaterThan(0.0, $most);
        }
    }

    /** A sine is one to the last bit that is heard, at any pitch, octave and tuning, minutes from its start. */
    public function testItIsInTune(): void
    {
        foreach ([[60, new Wave(WaveKind::Sine, levelDb: 0.0), 261.6255653], [33, new Wave(WaveKind::Sine, levelDb: 0.0, octave: 1, semitones: -2, cents: 30.0), 110.0 * 2.0 ** (-1.7 / 12.0)], [100, new Wave(WaveKind::Sine, levelDb: 0.0, times: 3), 3.0 * 440.0 * 2.0 ** (31 / 12.0)]] as [$pitch, $wave, $hz]) {
            $at = 20 * 44_100 + 777;
            $read = (new MadeSounds())->read(new MadeNote([$wave], $pitch, 100), $at, 400)->left;
            foreach ([0, 17, 399] as $i) {
                self::assertEqualsWithDelta(sin(2.0 * \M_PI * fmod($hz * ($at + $i) / 44_100, 1.0)), $read[$i], 2e-4, "note $pitch");
            }
        }
        $sharp = (new MadeSounds())->read(new MadeNote([new Wave(WaveKind::Sine, levelDb: 0.0)], 60, 100, 100), 50_000, 50)->left;
        self::assertEqualsWithDelta((new MadeSounds())->read(new MadeNote([new Wave(WaveKind::Sine, levelDb: 0.0)], 61, 100), 50_000, 50)->left, $sharp, 1e-9);
    }

    /** What is struck rings in the modes that the formulas give, within a cent. */
    public function testStruckThingsRingInTheirModes(): void
    {
        foreach ([[WaveKind::Bar, [1.0, 2.7565, 5.4039]], [WaveKind::Skin, [1.0, 1.5933, 2.1355]], [WaveKind::Tube, [1.0, 3.0, 5.0]], [WaveKind::Plate, [1.0, 2.5, 4.0]], [WaveKind::String, [1.0, 2.0 * sqrt((1.0 + 4 * 0.00006) / 1.00006), 3.0 * sqrt((1.0 + 9 * 0.00006) / 1.00006)]]] as [$kind, $ratios]) {
            $spectrum = self::spectrum([new Wave($kind, bright: 1.0, decayMs: 20_000.0, width: 17.0)], 60, 0);
            foreach ($ratios as $ratio) {
                $hz = 261.6255653 * $ratio;
                self::assertEqualsWithDelta(0.0, 1200.0 * log(self::peakNear($spectrum, $hz) / $hz, 2), 1.0, $kind->value.' '.$ratio);
            }
        }
        // By its time it has fallen by 60 dB.
        $sounds = new MadeSounds();
        $note = new MadeNote([new Wave(WaveKind::Tube, bright: 0.0, decayMs: 1000.0)], 60, 100);
        $level = static fn (int $at): float => $sounds->read($note, $at, 2000)->peak();
        self::assertEqualsWithDelta(-30.0, 20.0 * log10($level(22_050 + 2205) / $level(2205)), 1.5);
    }

    /** Read in pieces of any size, in any order, it is the same to the bit; notes that are alike have one name. */
    public function testItIsTheSameWhereverItIsRead(): void
    {
        for ($seed = 1; $seed <= 24; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $note = new MadeNote(self::random($chance), $chance->getInt(24, 100), $chance->getInt(1, 127));
            $whole = (new MadeSounds())->read($note, 0, 20_000);
            $sounds = new MadeSounds();
            for ($n = 0; $n < 4; ++$n) {
                $at = $chance->getInt(0, 18_000);
                $piece = $sounds->read($note, $at, $count = $chance->getInt(1, 2000));
                self::assertSame([\array_slice($whole->left, $at, $count), \array_slice($whole->right, $at, $count)], [$piece->left, $piece->right], "seed $seed");
            }
        }
        $plain = [new Wave(WaveKind::Saw)];
        self::assertSame((new MadeNote($plain, 60, 20))->name, (new MadeNote($plain, 60, 120))->name, 'strength makes nothing else of it');
        $answers = [new Wave(WaveKind::Saw, strength: 0.5)];
        self::assertNotSame((new MadeNote($answers, 60, 20))->name, (new MadeNote($answers, 60, 120))->name);
        self::assertNotSame((new MadeNote($plain, 60, 20))->name, (new MadeNote($plain, 61, 20))->name);
    }

    /** Whatever is set, nothing grows without end and nothing is no number. */
    public function testNothingIsUnstable(): void
    {
        for ($seed = 100; $seed < 400; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $waves = self::random($chance);
            $note = new MadeNote($waves, $chance->getInt(0, 127), $chance->getInt(1, 127));
            $sounds = new MadeSounds();
            $loudest = array_sum(array_map(static fn (Wave $w): float => 10.0 ** ($w->levelDb / 20.0) * 3.2, $waves));
            foreach ([0, 44_100, 30 * 44_100] as $at) {
                $peak = $sounds->read($note, $at, 300)->peak();
                self::assertTrue(is_finite($peak) && $peak <= $loudest, "seed $seed at $at: $peak of $loudest");
            }
        }
    }

    /** A wave begins after its delay without a click, fades by 60 dB in its time, and lies where it is placed. */
    public function testWavesBeginFadeAndLieWhereTheyAreSet(): void
    {
        $read = static fn (Wave $wave, int $at, int $count): \Pestle\Core\Audio\StereoBlock => (new MadeSounds())->read(new MadeNote([$wave], 69, 100), $at, $count);
        $late = $read(new Wave(WaveKind::Sine, levelDb: 0.0, delayMs: 100.0), 0, 8000)->left;
        self::assertSame(0.0, self::most(\array_slice($late, 0, 4410)));
        self::assertLessThan(0.1, self::most(\array_slice($late, 4410, 6)));
        self::assertGreaterThan(0.9, self::most(\array_slice($late, 4500, 200)));
        // What is struck later rings as it does at once, wherever its blocks lie.
        $struck = new Wave(WaveKind::Bar, levelDb: 0.0, decayMs: 2000.0);
        self::assertEqualsWithDelta($read($struck, 60, 15_000)->left, $read($struck->with(['delayMs' => 100.0]), 4410 + 60, 15_000)->left, 3e-5);
        $fading = $read(new Wave(WaveKind::Sine, levelDb: 0.0, decayMs: 500.0), 11_025, 400)->left;
        self::assertEqualsWithDelta(-30.0, 20.0 * log10(self::most($fading)), 0.6);
        self::assertLessThan(1e-6, self::most(\array_slice($read(new Wave(WaveKind::Saw, decayMs: 0.004), 0, 400)->left, 8)), 'shorter than a frame');
        $right = $read(new Wave(WaveKind::Sine, pan: 1.0), 0, 4000);
        self::assertLessThan(1e-9, self::most($right->left));
        $wide = $read(new Wave(WaveKind::Saw, voices: 7, spread: 100.0), 10_000, 4000);
        self::assertNotSame($wide->left, $wide->right);
        $narrow = $read(new Wave(WaveKind::Saw, voices: 1, spread: 100.0), 10_000, 4000);
        self::assertSame($narrow->left, $narrow->right);
    }

    /** @param list<float> $sound */
    private static function most(array $sound): float
    {
        return max([0.0, ...array_map(abs(...), $sound)]);
    }

    /** @return list<Wave> */
    private static function random(Randomizer $chance): array
    {
        $waves = [];
        for ($n = $chance->getInt(1, 4); $n > 0; --$n) {
            $set = [];
            foreach (Wave::parameters() as $field => $parameter) {
                $set[$field] = match (true) {
                    'kind' === $field => WaveKind::cases()[$chance->getInt(0, \count(WaveKind::cases()) - 1)],
                    'acts' === $field => WaveActs::cases()[$chance->getInt(0, 3)],
                    default => $parameter->nearest($parameter->at($chance->getInt(0, 100) / 100.0)),
                };
            }
            $waves[] = (new Wave())->with($set);
        }

        return $waves;
    }

    /**
     * @param list<Wave> $waves
     *
     * @return list<float> magnitudes behind a window whose leakage lies 92 dB down (F. J. Harris, 1978: Blackman-Harris)
     */
    private static function spectrum(array $waves, int $pitch, int $at = 8192): array
    {
        $sound = (new MadeSounds())->read(new MadeNote($waves, $pitch, 100), $at, self::SIZE)->left;
        foreach ($sound as $i => $x) {
            $turn = 2.0 * \M_PI * $i / self::SIZE;
            $sound[$i] = $x * (0.35875 - 0.48829 * cos($turn) + 0.14128 * cos(2.0 * $turn) - 0.01168 * cos(3.0 * $turn));
        }

        return (new Fft(self::SIZE))->magnitudes($sound);
    }

    /** @param list<float> $spectrum */
    private static function peakNear(array $spectrum, float $hz): float
    {
        $bin = 44100 / self::SIZE;
        $at = (int) round($hz / $bin);
        for ($k = $at - 6; $k <= $at + 6; ++$k) {
            $at = $spectrum[$k] > $spectrum[$at] ? $k : $at;
        }
        [$a, $b, $c] = [log($spectrum[$at - 1]), log($spectrum[$at]), log($spectrum[$at + 1])];

        return $bin * ($at + 0.5 * ($a - $c) / ($a - 2.0 * $b + $c));
    }
}
