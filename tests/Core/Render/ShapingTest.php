<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\Tone;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\SoftLimit;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Known answers: what shape, tone and movement make of a struck pad. At 60 BPM a tick is 45.9375 frames. */
final class ShapingTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = Sounds::folder();
    }

    public function testTheEnvelopeIsExactFrameByFrame(): void
    {
        $flat = array_fill(0, 60000, 0.5);
        $sound = $this->played($flat, ['amp/attackMs' => 10, 'amp/holdMs' => 5, 'amp/decayMs' => 200, 'amp/sustain' => 0.3, 'amp/attackBend' => -0.4, 'amp/decayBend' => 0.6])->left;
        foreach ([0, 1, 100, 440, 441, 600, 661, 662, 1023, 1024, 1025, 3000, 9480, 9481, 9482, 20000] as $n) {
            $wanted = match (true) {
                $n < 441 => self::bent($n / 441, -0.4),
                $n < 662 => 1.0,
                $n < 662 + 8820 => 1.0 - 0.7 * self::bent(($n - 662) / 8820, 0.6),
                default => 0.3,
            };
            self::assertEqualsWithDelta(0.5 * $wanted, $sound[$n], 2e-7, "frame $n");
        }
        // Falling to nothing it ends there, without a step.
        $short = $this->played($flat, ['amp/decayMs' => 50, 'amp/sustain' => 0, 'amp/decayBend' => 0])->left;
        self::assertEqualsWithDelta(0.25, $short[1102], 0.001);
        self::assertEqualsWithDelta(0.0, $short[2204], 0.001);
        self::assertSame(0.0, $short[2205] ?? 0.0);
    }

    public function testLetGoItDiesAwayFromWhereItIs(): void
    {
        $flat = array_fill(0, 60000, 0.5);
        // Held for 48 ticks, 2,205 frames: half way up.
        $sound = $this->played($flat, ['mode' => 'held', 'amp/attackMs' => 100, 'amp/releaseMs' => 200, 'amp/releaseBend' => 0.5], [[0, 'a0', 127, 48]])->left;
        foreach ([1000, 2204, 3000, 5000, 9000] as $n) {
            self::assertEqualsWithDelta(0.5 * min(1.0, $n / 4410) * (1.0 - self::bent(max(0, $n - 2205) / 8820, 0.5)), $sound[$n], 2e-7, "frame $n");
        }
        self::assertSame(0.0, $sound[2205 + 8820] ?? 0.0);
        // Struck again on its way down, it is silenced within 6 ms from where it was by then.
        $cut = $this->played($flat, ['mode' => 'held', 'amp/releaseMs' => 400, 'amp/releaseBend' => 0.5], [[0, 'a0', 127, 48], [144, 'a0', 1, 48]])->left;
        self::assertEqualsWithDelta(0.5 * (1.0 - self::bent((6614 - 2205) / 17640, 0.5)), $cut[6614], 1e-5);
        self::assertLessThan(0.001, abs($cut[6615 + 256]));
    }

    /** It waits, rises, stays, falls to a level and goes back when it is let go: here it takes level away. */
    public function testTheSecondEnvelopeIsExact(): void
    {
        $env = ['env/target' => 'level', 'env/depth' => -100, 'env/delayMs' => 10, 'env/attackMs' => 20, 'env/holdMs' => 30, 'env/decayMs' => 40, 'env/sustain' => 0.5, 'env/releaseMs' => 50, 'env/bend' => 0.3];
        // Held for 192 ticks, 8,820 frames; the sound goes on for its own release.
        $sound = $this->played(array_fill(0, 60000, 0.5), ['mode' => 'held', 'amp/delayMs' => 5, 'amp/releaseMs' => 900, 'amp/releaseBend' => 0, ...$env], [[0, 'a0', 127, 192]])->left;
        foreach ([0, 208, 224, 448, 800, 1312, 1600, 2640, 2656, 3600, 4400, 5000, 8800, 8832, 9600, 11_008, 11_040, 20_000] as $n) {
            $while = static fn (int $n): float => match (true) {
                $n < 441 => 0.0,
                $n < 1323 => self::bent(($n - 441) / 882, 0.3),
                $n < 2646 => 1.0,
                $n < 4410 => 1.0 - 0.5 * self::bent(($n - 2646) / 1764, 0.3),
                default => 0.5,
            };
            $wanted = $n <= 8820 ? $while($n) : 0.5 * (1.0 - self::bent(min(1.0, ($n - 8820) / 2205), 0.3));
            $amp = $n < 221 ? 0.0 : ($n <= 8820 ? 1.0 : 1.0 - ($n - 8820) / 39_690);
            self::assertEqualsWithDelta(0.5 * $amp * (1.0 - $wanted), $sound[$n], 2e-4, "frame $n");
        }
    }

    /** One comes in over a while; the same for all notes it runs from the start of what plays, else each begins its own. */
    public function testLfosComeInAndRunForAllNotesOrEachItsOwn(): void
    {
        $flat = array_fill(0, 60000, 0.5);
        $lfo = ['lfo1/target' => 'level', 'lfo1/hz' => 5, 'lfo1/depth' => 50];
        $gain = static fn (float $in, int $n): float => 0.5 * (1.0 + 0.5 * $in * sin(2.0 * \M_PI * 5.0 * $n / 44_100.0));
        $slow = $this->played($flat, [...$lfo, 'lfo1/fadeMs' => 400])->left;
        foreach ([160, 4000, 12_000, 17_648, 30_000] as $n) {
            self::assertEqualsWithDelta($gain(min(1.0, $n / 17_640), $n), $slow[$n], 1e-4, "frame $n");
        }
        // Struck again after 150 ticks, 6,890 frames: more than half a round later.
        foreach ([0 => 6890, 1 => 0] as $common => $from) {
            $twice = $this->played($flat, [...$lfo, 'lfo1/common' => $common], [[0, 'a0', 127], [150, 'a0', 127]])->left;
            foreach ([8000, 12_000, 20_000] as $n) {
                self::assertEqualsWithDelta($gain(1.0, $n - $from), $twice[$n], 2e-3, "frame $n, $common");
            }
        }
    }

    /** A cut-off that goes back when the sound is let go: as it was until then, darker after it. */
    public function testLettingGoClosesTheToneWhereThatIsSet(): void
    {
        $noise = Sounds::hit(5, 40_000)->left;
        $set = ['mode' => 'held', 'amp/releaseMs' => 600, 'amp/releaseBend' => 0, 'filter/shape' => 'low-pass', 'filter/steep' => 1, 'filter/cutoffHz' => 100, 'filter/envelopeCents' => 7200, 'filter/sustain' => 1];
        $stays = $this->played($noise, $set, [[0, 'a0', 127, 96]])->left;
        $closes = $this->played($noise, [...$set, 'filter/releaseMs' => 50], [[0, 'a0', 127, 96]])->left;
        self::assertSame(\array_slice($stays, 0, 4400), \array_slice($closes, 0, 4400));
        self::assertGreaterThan(5.0 * self::level(\array_slice($closes, 7500, 4000)), self::level(\array_slice($stays, 7500, 4000)));
    }

    /** The vowel that is drawn is the one that is heard, at every cut-off. */
    public function testVowelsHaveTheResponseThatIsDrawn(): void
    {
        $impulse = array_fill(0, 16384, 0.0);
        $impulse[0] = 0.1;
        foreach ([[250.0, 0.2], [700.0, 0.0], [1000.0, 0.5], [4000.0, 0.3]] as [$cutoff, $resonance]) {
            $sound = $this->played($impulse, ['filter/shape' => 'vowel', 'filter/cutoffHz' => $cutoff, 'filter/resonance' => $resonance])->left;
            [$re, $im] = (new Fft(16384))->forward(\array_slice(array_pad($sound, 16384, 0.0), 0, 16384));
            foreach ([120.0, 300.0, 530.0, 730.0, 1090.0, 1800.0, 2440.0, 6000.0] as $hz) {
                $bin = (int) round($hz * 16384 / 44100);
                $drawn = Tone::response(new Filter(FilterShape::Vowel, false, $cutoff, $resonance), $bin * 44100 / 16384);
                self::assertEqualsWithDelta($drawn, hypot($re[$bin], $im[$bin]) / 0.1, 0.01 * $drawn + 1e-4, "$cutoff, $hz Hz");
            }
        }
        // At a (250 Hz) its first formant is the strongest, between those of i (1 kHz) there is a wide hole.
        $at = static fn (float $cutoff, float $hz): float => Tone::response(new Filter(FilterShape::Vowel, false, $cutoff, 0.4), $hz);
        self::assertGreaterThan(2.0 * $at(250.0, 300.0), $at(250.0, 730.0));
        self::assertGreaterThan(8.0 * $at(1000.0, 900.0), $at(1000.0, 270.0));
    }

    /** @return iterable<string, array{string, bool, float}> */
    public static function filters(): iterable
    {
        foreach (['low-pass', 'high-pass', 'band-pass', 'notch'] as $shape) {
            foreach ([false, true] as $steep) {
                yield $shape.($steep ? ' 24' : ' 12') => [$shape, $steep, 0.0];
                yield $shape.($steep ? ' 24' : ' 12').', resonant' => [$shape, $steep, 0.5];
            }
        }
    }

    #[DataProvider('filters')]
    public function testFiltersHaveTheResponseOfTheirAnalogueSelves(string $shape, bool $steep, float $resonance): void
    {
        $impulse = array_fill(0, 16384, 0.0);
        $impulse[0] = 0.1;
        $sound = $this->played($impulse, ['filter/shape' => $shape, 'filter/steep' => $steep, 'filter/cutoffHz' => 1500, 'filter/resonance' => $resonance])->left;
        $fft = new Fft(16384);
        [$re, $im] = $fft->forward(\array_slice(array_pad($sound, 16384, 0.0), 0, 16384));
        foreach ([60.0, 400.0, 1000.0, 1500.0, 1800.0, 4000.0, 12000.0] as $hz) {
            $bin = (int) round($hz * 16384 / 44100);
            $hz = $bin * 44100 / 16384;
            $w = tan(\M_PI * $hz / 44100) / tan(\M_PI * 1500 / 44100);
            $raised = 2 ** (5 * $resonance);
            $qualities = match (true) {
                !$steep => [\M_SQRT1_2 * $raised],
                \in_array($shape, ['low-pass', 'high-pass'], true) => [0.5411961, 1.3065630 * $raised],
                default => [\M_SQRT1_2 * $raised, \M_SQRT1_2 * $raised],
            };
            $wanted = 1.0;
            foreach ($qualities as $q) {
                $above = match ($shape) {
                    'low-pass' => 1.0,
                    'high-pass' => $w * $w,
                    'band-pass' => $w / $q,
                    default => abs(1.0 - $w * $w),
                };
                $wanted *= $above / sqrt((1.0 - $w * $w) ** 2 + ($w / $q) ** 2);
            }
            // The grid lies at 2^-23: below -90 dB there is nothing to compare.
            self::assertEqualsWithDelta($wanted, hypot($re[$bin], $im[$bin]) / 0.1, 0.002 * $wanted + 1e-4, "$hz Hz");
            self::assertEqualsWithDelta($wanted, Tone::response(new Filter(FilterShape::from($shape), $steep, 1500.0, $resonance), $hz), 1e-6 * $wanted + 1e-9, "$hz Hz, drawn");
        }
    }

    public function testStrengthKeyAndEnvelopeMoveTheCutoff(): void
    {
        $noise = Sounds::hit(5, 9000)->left;
        $filter = ['filter/shape' => 'low-pass', 'filter/steep' => 1];
        $plain = $this->played($noise, [...$filter, 'filter/cutoffHz' => 2000])->left;
        $strong = $this->played($noise, [...$filter, 'filter/cutoffHz' => 1000, 'filter/strengthCents' => 1200])->left;
        self::assertSame($plain, $strong, 'the strongest strike: an octave up');
        $envelope = $this->played($noise, [...$filter, 'filter/cutoffHz' => 1000, 'filter/envelopeCents' => 1200, 'filter/sustain' => 1])->left;
        self::assertSame($plain, $envelope, 'an envelope that stays up');
        $softly = [[0, 'a0', 64]];
        self::assertNotEquals($this->played($noise, [...$filter, 'filter/cutoffHz' => 1000], $softly)->left, $this->played($noise, [...$filter, 'filter/cutoffHz' => 1000, 'filter/strengthCents' => 1200], $softly)->left);
        $up = $this->played($noise, [...$filter, 'filter/cutoffHz' => 2000, 'tuneCents' => 1200])->left;
        self::assertSame($up, $this->played($noise, [...$filter, 'filter/cutoffHz' => 1000, 'filter/keyTracking' => 1, 'tuneCents' => 1200])->left, 'an octave higher, with the key');
        // An envelope that falls: bright at first, dark by its end.
        $fall = $this->played(array_map(static fn (int $i): float => 0.4 * ($i % 20 < 10 ? 1 : -1), range(0, 40000)), [...$filter, 'filter/cutoffHz' => 100, 'filter/envelopeCents' => 7200, 'filter/decayMs' => 200])->left;
        self::assertGreaterThan(0.35, self::level(\array_slice($fall, 100, 400)));
        self::assertLessThan(0.001, self::level(\array_slice($fall, 14000, 4000)));
    }

    public function testASweepFallsIntoThePitchAndTheSoundLastsAccordingly(): void
    {
        $sine = Sounds::sine(300, 44100, 44100, 0.4);
        $sound = $this->played($sine, ['pitch/cents' => 1200, 'pitch/decayMs' => 100, 'pitch/bend' => 0])->left;
        // An octave up at first, even in cents: after half of the way half an octave.
        self::assertEqualsWithDelta(600 * 2 ** -0.05, self::hertz($sound, 0, 441), 12);
        self::assertEqualsWithDelta(300 * 2 ** 0.5, self::hertz($sound, 2205 - 220, 441), 12);
        self::assertEqualsWithDelta(300, self::hertz($sound, 4500, 8000), 0.05);
        self::assertLessThan(-100, Sounds::unwanted(\array_slice($sound, 5000, 20000), 300, 44100));
        // Of a sound that ran faster at first, so much less is left: the integral of 2^(1 - t) is 1 / ln 2.
        $ends = \count(array_filter($sound, static fn (float $x): bool => 0.0 !== $x));
        self::assertEqualsWithDelta(44100 - 4410 * (1 / log(2) - 1), $ends, 60);
    }

    public function testLfosMoveLevelPlacePitchAndTone(): void
    {
        $flat = array_fill(0, 90000, 0.25);
        $level = $this->played($flat, ['lfo1/target' => 'level', 'lfo1/hz' => 2, 'lfo1/depth' => 50])->left;
        foreach ([5512 => 1.5, 11025 => 1.0, 16537 => 0.5, 22050 => 1.0] as $n => $gain) {
            self::assertEqualsWithDelta(0.25 * $gain, $level[$n], 0.001);
        }
        // A square in time, a quarter long, after a delay; it moves without a step.
        $place = $this->played($flat, ['lfo1/target' => 'pan', 'lfo1/shape' => 'square', 'lfo1/ticks' => 960, 'lfo1/depth' => 100, 'lfo1/delayMs' => 100]);
        self::assertEqualsWithDelta(0.25, $place->left[4000], 1e-6);
        self::assertEqualsWithDelta(0.0, $place->left[15000], 1e-6);
        self::assertEqualsWithDelta(0.25 * \M_SQRT2, $place->right[15000], 1e-5);
        self::assertEqualsWithDelta(0.25 * \M_SQRT2, $place->left[4410 + 22050 + 2000], 1e-5);
        $steps = array_map(static fn (float $a, float $b): float => abs($a - $b), \array_slice($place->left, 100, 80000), \array_slice($place->left, 101, 80000));
        self::assertSame([], array_filter($steps, static fn (float $step): bool => $step > 0.02));
        $sine = Sounds::sine(1000, 50000, 44100, 0.4);
        $pitch = $this->played($sine, ['lfo1/target' => 'pitch', 'lfo1/hz' => 1, 'lfo1/depth' => 100])->left;
        self::assertEqualsWithDelta(1000 * 2 ** (1 / 12), self::hertz($pitch, 11025 - 1000, 2000), 2);
        self::assertEqualsWithDelta(1000 / 2 ** (1 / 12), self::hertz($pitch, 33075 - 1000, 2000), 2);
        $noise = Sounds::hit(9, 44100, 0.5)->left;
        $two = $this->played($noise, ['filter/shape' => 'low-pass', 'filter/cutoffHz' => 500, 'lfo1/target' => 'cut-off', 'lfo1/depth' => 2400, 'lfo2/target' => 'cut-off', 'lfo2/depth' => 100]);
        self::assertNotEquals($two->left, $this->played($noise, ['filter/shape' => 'low-pass', 'filter/cutoffHz' => 500])->left);
    }

    /** A sine of 3,520 Hz, driven hard: what is no harmonic of it folded back. */
    public function testDriveFoldsLittleBack(): void
    {
        $fft = new Fft(32768);
        foreach ([12 => -85.0, 24 => -70.0] as $db => $most) {
            $driven = SoftLimit::through(Sounds::sine(3520, 40000, 44100, 0.5), Decibels::toGain($db));
            self::assertCount(40000 - 2 * SoftLimit::MARGIN, $driven);
            $spectrum = $fft->magnitudes(array_map(static fn (float $x, int $i): float => $x * (0.5 - 0.5 * cos(2 * \M_PI * $i / 32768)), \array_slice($driven, 100, 32768), range(0, 32767)));
            $harmonic = $alias = 0.0;
            foreach ($spectrum as $bin => $level) {
                $hz = $bin * 44100 / 32768;
                $off = abs($hz - 3520 * round($hz / 3520));
                $harmonic = $off < 15 ? max($harmonic, $level) : $harmonic;
                $alias = $off > 30 && $hz > 30 ? max($alias, $level) : $alias;
            }
            self::assertLessThan($most, Decibels::fromGain($alias / $harmonic), "$db dB");
        }
        // It comes when it was struck, not later.
        $click = [...array_fill(0, 500, 0.0), 0.1, ...array_fill(0, 3499, 0.0)];
        $sound = $this->played($click, ['filter/driveDb' => 6])->left;
        arsort($sound);
        self::assertSame(500, array_key_first($sound));
    }

    /** @param list<float> $part */
    private static function level(array $part): float
    {
        return sqrt(array_sum(array_map(static fn (float $x): float => $x * $x, $part)) / max(1, \count($part)));
    }

    private static function bent(float $way, float $bend): float
    {
        return (1.0 - exp(-6.0 * $bend * $way)) / (1.0 - exp(-6.0 * $bend));
    }

    /**
     * Pitch of a stretch by its crossings of zero.
     *
     * @param list<float> $sound
     */
    private static function hertz(array $sound, int $from, int $frames): float
    {
        $crossings = [];
        for ($i = $from; $i < $from + $frames; ++$i) {
            if ($sound[$i] < 0.0 && $sound[$i + 1] >= 0.0) {
                $crossings[] = $i + $sound[$i] / ($sound[$i] - $sound[$i + 1]);
            }
        }

        return (\count($crossings) - 1) * 44100 / (end($crossings) - $crossings[0]);
    }

    /**
     * @param list<float>                          $sound
     * @param array<string, string|int|float|bool> $settings of the pad
     * @param list<list<int|string>>               $hits
     */
    private function played(array $sound, array $settings, array $hits = [[0, 'a0', 127]]): StereoBlock
    {
        $hash = Sounds::put($this->folder, new StereoBlock($sound, $sound));
        $beat = RandomBeats::changed(Beat::empty('Known'), [
            ['type' => 'set-tempo', 'bpm' => 60],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hash, 'name' => 'Sound', 'role' => 'kick', 'start' => 0, 'end' => \count($sound)],
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits],
            ['type' => 'set', 'under' => 'kit/a0', ...$settings],
        ]);
        $sounds = new PadSounds(new SampleLibrary($this->folder), Beat::SAMPLE_RATE);
        $whole = StereoBlock::silence(0);
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, [Entry::once('p1')], $sounds)) as $moment) {
            $whole = $whole->append($moment->mix->block());
        }

        return $whole;
    }
}
