<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\Beats;
use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;
use Pestle\Tests\Core\Sounds;

/** The demo beat must sound like a beat somebody would keep: the measures that stand in for ears. Loaded and rendered without a screen. */
final class KettleSteamTest extends AppCase
{
    private static StereoBlock $sound;
    private static string $folder;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = Sounds::folder();
        self::console(['pestle:demo'], 0);
        self::assertStringContainsString('is there', self::console(['pestle:demo'], 0));
        self::assertCount(1, self::service(Beats::class)->all());
        self::console(['pestle:render', 'Kettle Steam', '--out='.self::$folder.'/main.wav', '--section=First', '--loop', '--stems='.self::$folder.'/stems'], 0);
        self::$sound = Sounds::whole(SoundFile::open(self::$folder.'/main.wav'));
    }

    public function testItIsAsLoudAsItShouldBe(): void
    {
        $loudness = Loudness::of(new MemorySource(self::$sound, 44100));
        self::assertEqualsWithDelta(-13.0, $loudness->integratedLufs, 1.0);
        self::assertLessThanOrEqual(-1.0, $loudness->truePeakDb);
        $rms = Decibels::fromGain(sqrt((self::power(self::$sound->left) + self::power(self::$sound->right)) / 2));
        $crest = $loudness->samplePeakDb - $rms;
        self::assertGreaterThan(9.0, $crest);
        self::assertLessThan(14.0, $crest);
        self::assertLessThan(0.001, abs(array_sum(self::$sound->left) / \count(self::$sound->left)));
    }

    public function testItsSpectrumFallsEvenlyAndItsLowsAreThere(): void
    {
        $bands = self::thirdOctaves(self::$sound);
        $points = [];
        foreach ($bands as [$hz, $power]) {
            if ($hz >= 100 && $hz <= 10000) {
                $points[] = [log($hz / 100, 2), 10 * log10($power)];
            }
        }
        [$slope, $offset] = self::line($points);
        self::assertEqualsWithDelta(-4.0, $slope, 1.0, \sprintf('slope %.2f dB an octave', $slope));
        foreach ($points as [$octave, $db]) {
            self::assertEqualsWithDelta($offset + $slope * $octave, $db, 8.0, \sprintf('%.0f Hz', 100 * 2 ** $octave));
        }
        $total = array_sum(array_column($bands, 1));
        $below = static fn (float $limit): float => array_sum(array_column(array_filter($bands, static fn (array $band): bool => $band[0] < $limit), 1)) / $total;
        self::assertGreaterThan(0.25, $below(120));
        self::assertLessThan(0.55, $below(120));
        self::assertLessThan(0.03, $below(28));
    }

    public function testItsWidthIsAboveTheLows(): void
    {
        self::assertGreaterThan(0.3, self::correlation(self::$sound->left, self::$sound->right));
        $low = Biquad::lowPass(120, 0.71, 44100);
        self::assertGreaterThan(0.95, self::correlation($low->filter($low->filter(self::$sound->left)), $low->filter($low->filter(self::$sound->right))));
        self::assertLessThan(0.999, self::correlation(self::$sound->left, self::$sound->right));
    }

    public function testItLoopsWithoutASeam(): void
    {
        $joined = [...\array_slice(self::$sound->left, -400), ...\array_slice(self::$sound->left, 0, 400)];
        $bend = static fn (int $i): float => abs($joined[$i] - 2 * $joined[$i - 1] + $joined[$i - 2]);
        $around = max(array_map($bend, [...range(300, 390), ...range(420, 500)]));
        self::assertLessThan(6 * $around, max(array_map($bend, range(396, 404))));
    }

    public function testStemsCameWithIt(): void
    {
        $stems = glob(self::$folder.'/stems/*.wav') ?: [];
        self::assertContains(self::$folder.'/stems/01 Mortar low - 86 BPM - D minor.wav', $stems);
        $sum = StereoBlock::silence(self::$sound->frames());
        $left = $sum->left;
        foreach ($stems as $stem) {
            foreach (Sounds::whole(SoundFile::open($stem))->left as $i => $x) {
                $left[$i] += $x;
            }
        }
        self::assertTrue(array_values($left) === self::$sound->left);
    }

    /** No stem goes beyond full scale, and the limiter has little to do. */
    public function testTheWholeSongLeavesItsLimiterLittleToDo(): void
    {
        $beat = self::service(Beats::class)->content(self::service(Beats::class)->all()[0]);
        $sounds = new PadSounds(self::service(SampleStore::class)->library(), Beat::SAMPLE_RATE);
        $least = 1.0;
        $peaks = [];
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, Passage::song($beat), $sounds), StemGrouping::Channel->stems($beat)) as $moment) {
            $least = min($least, $moment->reductions['limiter']);
            foreach ($moment->stems as $name => $block) {
                $peaks[$name] = max($peaks[$name] ?? 0.0, $block->peak());
            }
        }
        self::assertGreaterThan(-4.0, Decibels::fromGain($least));
        self::assertLessThan(-1.0, Decibels::fromGain($least));
        self::assertSame([], array_filter($peaks, static fn (float $p): bool => $p > 1.0));
        self::assertCount(9, array_filter($peaks, static fn (float $p): bool => $p > 0.1));
    }

    public function testScriptsGetWhatTheyAskFor(): void
    {
        $facts = json_decode(self::console(['pestle:analyse', self::$folder.'/main.wav', '--json'], 0), true);
        self::assertIsArray($facts);
        self::assertSame([44100, 2], [$facts['sample_rate'], $facts['channels']]);
        self::assertIsArray($facts['tempo']);
        self::assertIsNumeric($facts['tempo']['bpm']);
        self::assertEqualsWithDelta(86.0, (float) $facts['tempo']['bpm'], 0.5);
        self::assertIsArray($facts['onsets']);
        self::assertGreaterThan(30, \count($facts['onsets']));
        self::assertMatchesRegularExpression('/^[0-9a-f]{64}  main$/', trim(self::console(['pestle:import', self::$folder.'/main.wav'], 0)));
        self::assertStringContainsString('nothing.wav: there is no such file.', self::console(['pestle:import', '/nothing.wav'], 1));
        self::assertStringContainsString('there is no such file', self::console(['pestle:analyse', '/nothing.wav'], 1));
        self::assertStringContainsString('There is no beat named "Teapot". The beats are: Kettle Steam.', self::console(['pestle:render', 'Teapot', '--out=/tmp/x.wav'], 1));
        self::assertStringContainsString('There is no section named "Bridge" in this beat. There are: Opening, First, Lifted', self::console(['pestle:render', 'Kettle Steam', '--out=/tmp/x.wav', '--section=Bridge'], 1));
        self::assertStringContainsString('  s3         Lifted                   4 bars × 2  (Stall: Stall, lifted, Old piano: Chords, Low jar: Jar)', self::console(['pestle:show', 'Kettle Steam'], 0));
        $shown = json_decode(self::console(['pestle:show', '1', '--json'], 0), true);
        self::assertIsArray($shown);
        self::assertSame([6, ['s1' => 15360, 's2' => 15360, 's3' => 15360, 's4' => 15360, 's5' => 15360, 's6' => 15360]], [$shown['format'], $shown['lengths']]);
        self::assertStringContainsString('There is no beat named "Teapot"', self::console(['pestle:show', 'Teapot'], 1));
        // Any parameter by its path: what it is, what it was, and what does not fit.
        $compressor = self::console(['pestle:set', 'Kettle Steam', 'mixer/c9/inserts/i2'], 0);
        self::assertMatchesRegularExpression('~^mixer/c9/inserts/i2/thresholdDb +-18 dB +Threshold of Low jar \(-60 dB to 0 dB\)$~m', $compressor);
        self::assertSame(5, substr_count($compressor, "\n"));
        self::assertSame('Threshold of Low jar: -20.5 dB (it was -18 dB)', self::console(['pestle:set', 'Kettle Steam', 'mixer/c9/inserts/i2/thresholdDb', '--', '-20.5'], 0));
        self::assertSame('Tempo of Kettle Steam: 86 BPM (it was 86 BPM)', self::console(['pestle:set', '1', 'tempo', '86'], 0));
        self::assertStringContainsString('kit/a0/choke must be a whole number from 0 to 8.', self::console(['pestle:set', '1', 'kit/a0/choke', '9'], 1));
        self::assertStringContainsString('kit/a0/colour is no parameter of this beat.', self::console(['pestle:set', '1', 'kit/a0/colour', '9'], 1));
        self::assertStringContainsString('Say where to write', self::console(['pestle:render', 'Kettle Steam'], 1));
    }

    /** @param list<float> $side */
    private static function power(array $side): float
    {
        return array_sum(array_map(static fn (float $x): float => $x * $x, $side)) / max(1, \count($side));
    }

    /** @param list<string> $arguments */
    private static function console(array $arguments, int $code): string
    {
        exec(implode(' ', array_map(escapeshellarg(...), [\dirname(__DIR__, 2).'/bin/console', ...$arguments])).' 2>&1', $lines, $status);
        self::assertSame($code, $status, implode("\n", $lines));

        return implode("\n", $lines);
    }

    /** @return list<array{float, float}> middle frequency and power of each third octave */
    private static function thirdOctaves(StereoBlock $sound): array
    {
        $size = 16384;
        $fft = new Fft($size);
        $window = Window::hann($size);
        $power = array_fill(0, $size / 2 + 1, 0.0);
        for ($at = 0; $at + $size <= $sound->frames(); $at += $size) {
            $part = [];
            foreach ($window as $i => $w) {
                $part[] = $w * ($sound->left[$at + $i] + $sound->right[$at + $i]);
            }
            foreach ($fft->magnitudes($part) as $k => $m) {
                $power[$k] += $m * $m;
            }
        }
        $bands = [];
        for ($n = -17; $n <= 13; ++$n) {
            $hz = 1000 * 2 ** ($n / 3);
            [$from, $to] = [(int) round($hz * 2 ** (-1 / 6) * $size / 44100), (int) round($hz * 2 ** (1 / 6) * $size / 44100)];
            $bands[] = [$hz, array_sum(\array_slice($power, $from, max(1, $to - $from))) + 1e-12];
        }

        return $bands;
    }

    /**
     * @param list<array{float, float}> $points
     *
     * @return array{float, float} slope and offset of the least-squares line
     */
    private static function line(array $points): array
    {
        $n = \count($points);
        $x = array_sum(array_column($points, 0)) / $n;
        $y = array_sum(array_column($points, 1)) / $n;
        $xy = $xx = 0.0;
        foreach ($points as [$px, $py]) {
            $xy += ($px - $x) * ($py - $y);
            $xx += ($px - $x) ** 2;
        }

        return [$xy / $xx, $y - $xy / $xx * $x];
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     */
    private static function correlation(array $a, array $b): float
    {
        $ab = $aa = $bb = 0.0;
        foreach ($a as $i => $x) {
            $ab += $x * $b[$i];
            $aa += $x * $x;
            $bb += $b[$i] * $b[$i];
        }

        return $ab / sqrt($aa * $bb);
    }
}
