<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\SampleStore;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Exchange\StemGrouping;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;

/** The tea stall's beat, and what the console says of it. */
final class KettleSteamTest extends DemoBeatCase
{
    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = Sounds::folder();
        self::console(['pestle:demo', 'Kettle Steam'], 0);
        self::assertStringContainsString('is there', self::console(['pestle:demo', 'Kettle Steam'], 0));
        self::assertCount(1, self::service(Beats::class)->all());
        self::console(['pestle:render', 'Kettle Steam', '--out='.self::$folder.'/main.wav', '--section=First', '--loop', '--stems='.self::$folder.'/stems'], 0);
        self::$sound = Sounds::whole(SoundFile::open(self::$folder.'/main.wav'));
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
    public function testItsFullestSectionsLeaveTheLimiterLittleToDo(): void
    {
        $beat = self::service(Beats::class)->content(self::service(Beats::class)->all()[0]);
        $sounds = new PadSounds(self::service(SampleStore::class)->library(), Beat::SAMPLE_RATE);
        $least = 1.0;
        $peaks = [];
        // The last of them is the one in which the kettle hums.
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, [Entry::once('s3'), Entry::once('s4')], $sounds), StemGrouping::Channel->stems($beat)) as $moment) {
            $least = min([$least, ...$moment->reductions['limiter']]);
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
        self::assertStringContainsString('  s3         Lifted                   4 bars  (Stall: Stall, lifted, Old piano: Chords, Low jar: Jar)', self::console(['pestle:show', 'Kettle Steam'], 0));
        self::assertStringContainsString('  e1 Opening, e2 First × 2, e3 Lifted × 2, e4 Break, ', self::console(['pestle:show', 'Kettle Steam'], 0));
        $shown = json_decode(self::console(['pestle:show', '1', '--json'], 0), true);
        self::assertIsArray($shown);
        self::assertSame([BeatCodec::FORMAT, ['s1' => 15360, 's2' => 15360, 's3' => 15360, 's4' => 15360, 's5' => 15360, 's6' => 15360]], [$shown['format'], $shown['lengths']]);
        self::assertStringContainsString('There is no beat named "Teapot"', self::console(['pestle:show', 'Teapot'], 1));
        // Any parameter by its path: what it is, what it was, and what does not fit.
        $compressor = self::console(['pestle:set', 'Kettle Steam', 'mixer/c9/inserts/i2'], 0);
        self::assertMatchesRegularExpression('~^mixer/c9/inserts/i2/thresholdDb +-18 dB +Threshold of Low jar \(-60 dB to 0 dB\)$~m', $compressor);
        self::assertSame(12, substr_count($compressor, "\n"));
        /** @var list<array<string, mixed>> $told */
        $told = json_decode(self::console(['pestle:set', 'Kettle Steam', 'mixer/c9', '--json'], 0), true);
        $told = array_column($told, null, 'path');
        self::assertSame([true, '', ['song//mixer/c9/gainDb'], -60.0, 12.0], array_map(static fn (string $of): mixed => $told['mixer/c9/gainDb'][$of], ['moves', 'still', 'movements', 'least', 'most']));
        self::assertSame([false, 'it is how long the sound waits.', []], array_map(static fn (string $of): mixed => $told['mixer/c9/inserts/i2/aheadMs'][$of], ['moves', 'still', 'movements']));
        self::assertSame('Threshold of Low jar: -20.5 dB (it was -18 dB)', self::console(['pestle:set', 'Kettle Steam', 'mixer/c9/inserts/i2/thresholdDb', '--', '-20.5'], 0));
        self::assertSame('Tempo of Kettle Steam: 86 BPM (it was 86 BPM)', self::console(['pestle:set', '1', 'tempo', '86'], 0));
        self::assertStringContainsString('kit/a0/choke must be a whole number from 0 to 16.', self::console(['pestle:set', '1', 'kit/a0/choke', '17'], 1));
        self::assertStringContainsString('kit/a0/colour is no parameter of this beat.', self::console(['pestle:set', '1', 'kit/a0/colour', '9'], 1));
        self::assertStringContainsString('Say where to write', self::console(['pestle:render', 'Kettle Steam'], 2));
    }
}
