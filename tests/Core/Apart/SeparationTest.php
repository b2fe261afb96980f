<?php

namespace Pestle\Tests\Core\Apart;

use Pestle\Core\Apart\ApartFiles;
use Pestle\Core\Apart\Bands;
use Pestle\Core\Apart\Cues;
use Pestle\Core\Apart\MaskNetwork;
use Pestle\Core\Apart\Owned;
use Pestle\Core\Apart\RecordingPart;
use Pestle\Core\Apart\Separation;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Noise;
use Pestle\Tests\Core\Sounds;
use Pestle\Tests\Hearing\SiSdr;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Recordings are taken apart into four parts that are the recording again, piece by piece, and each is what it is called. */
final class SeparationTest extends TestCase
{
    /** @return iterable<string, array{SampleFormat, int, int}> */
    public static function stored(): iterable
    {
        yield '16 bit' => [SampleFormat::Int16, 44100, 30_000];
        yield '24 bit at 48 kHz' => [SampleFormat::Int24, 48000, 20_001];
        yield '8 kHz' => [SampleFormat::Int16, 8000, 5_000];
        yield 'a few frames' => [SampleFormat::Int16, 44100, 3];
    }

    #[DataProvider('stored')]
    public function testTheFourAreTheRecordingToTheBit(SampleFormat $format, int $rate, int $frames): void
    {
        $folder = Sounds::folder();
        $file = SoundFile::open($folder.'/'.substr($hash = Sounds::put($folder, Sounds::hit(4, $frames), $rate, $format), 0, 2).'/'.$hash.'.wav');
        $parts = self::parts($file, Sounds::folder());
        $whole = $file->read(0, $frames);
        foreach (['left', 'right'] as $side) {
            $sum = array_fill(0, $frames, 0.0);
            foreach ($parts as $part) {
                self::assertSame($frames, $part->frames());
                self::assertSame($rate, $part->sampleRate());
                foreach ($part->read(0, $frames)->{$side} as $i => $x) {
                    $sum[$i] += $x;
                }
            }
            self::assertSame($whole->{$side}, $sum);
        }
    }

    public function testSilenceIsSilenceInEveryPart(): void
    {
        foreach (self::parts(new MemorySource(StereoBlock::silence(9000), 44100), Sounds::folder()) as $part) {
            self::assertSame(0.0, $part->read(0, 9000)->peak());
        }
    }

    /** Two pieces are what one would be: worked out apart, nothing is heard where they meet. */
    public function testPiecesMeetWithoutASeam(): void
    {
        $recording = KnownSong::of(4.5)->mix;
        $separation = new Separation($recording, pieceSeconds: 3.0);
        self::assertSame(2, $separation->pieces());
        [$first, $second] = [$separation->piece(0), $separation->piece(1)];
        self::assertEquals($second, (new Separation($recording, pieceSeconds: 3.0))->piece(1), 'It depends on no other piece.');
        self::assertSame($recording->frames(), $first->drums->frames() + $second->drums->frames());
        foreach (RecordingPart::cases() as $part) {
            // A step there would stand out of the steps around it.
            $around = [...\array_slice($first->of($part)->left, -400), ...\array_slice($second->of($part)->left, 0, 400)];
            $steps = [];
            for ($i = 1; $i < 800; ++$i) {
                $steps[$i] = abs($around[$i] - $around[$i - 1]);
            }
            $there = $steps[400];
            unset($steps[400]);
            self::assertLessThanOrEqual(1.2 * max([0.0, ...$steps]) + 1e-6, $there, $part->value);
        }
    }

    /** Drums struck by oscillators, a bass that is a sine and dies away as a kick does, an old piano: the hardest there is to tell. */
    public function testEachPartIsWhatItIsCalled(): void
    {
        $song = KnownSong::of(12.0);
        $parts = self::parts($song->mix, Sounds::folder());
        $frames = $song->mix->frames();
        foreach (['drums' => [$song->drums, 3.0], 'bass' => [$song->bass, 2.5], 'melody' => [$song->melody, 12.0]] as $name => [$known, $least]) {
            $truth = $known->read(0, $frames);
            $gain = SiSdr::of($truth, $parts[$name]->read(0, $frames)) - SiSdr::of($truth, $song->mix->read(0, $frames));
            self::assertGreaterThan($least, $gain, \sprintf('%s: %.1f dB better than the mixture.', $name, $gain));
        }
    }

    /** What was half written when a process ended is written again, and what is done is heard before all is. */
    public function testTheFilesGoOnWhereTheyWereLeft(): void
    {
        $recording = KnownSong::of(3.5)->mix;
        [$folder, $other] = [Sounds::folder(), Sounds::folder()];
        $files = new ApartFiles($folder, $recording, 2.5);
        $told = [];
        try {
            $files->make(static function (float $done) use (&$told): void {
                $told[] = $done;
                throw new \LogicException('The process ends.');
            });
        } catch (\LogicException) {
        }
        self::assertSame(1, $files->pieces());
        self::assertFalse($files->isWhole());
        file_put_contents($files->path(RecordingPart::Bass), 'half a piece', \FILE_APPEND);
        $again = new ApartFiles($folder, $recording, 2.5);
        self::assertSame($files->done(), $again->done());
        self::assertGreaterThan(0.01, $again->source(RecordingPart::Drums)->read(0, $again->done())->peak());
        self::assertSame(0.0, $again->source(RecordingPart::Drums)->read($again->done(), 1000)->peak(), 'What is not there yet is silence.');
        $again->make(static function (float $done) use (&$told): void {
            $told[] = $done;
        });
        self::assertTrue($again->isWhole());
        self::assertSame([0.5, 1.0], $told);
        $inOneGo = new ApartFiles($other, $recording, 2.5);
        $inOneGo->make(static fn (float $done) => null);
        foreach (RecordingPart::cases() as $part) {
            self::assertFileEquals($inOneGo->path($part), $again->path($part));
            self::assertSame($recording->frames(), SoundFile::open($again->path($part))->frames());
            self::assertSame($inOneGo->outline($part), $again->outline($part));
            self::assertSame((int) ceil($recording->frames() / 1024), \strlen($again->outline($part)));
        }
        // Half of what was there is gone: nothing is made of the rest.
        $state = json_decode((string) file_get_contents($folder.'/state.json'), true);
        self::assertIsArray($state);
        file_put_contents($folder.'/state.json', json_encode(['pieces' => 1] + $state));
        file_put_contents($again->path(RecordingPart::Voice), 'RIFF');
        try {
            (new ApartFiles($folder, $recording, 2.5))->make(static fn (float $done) => null);
            self::fail('It is told.');
        } catch (\InvalidArgumentException $e) {
            self::assertStringContainsString('no longer whole', $e->getMessage());
        }
        self::assertEqualsWithDelta($inOneGo->owned()->sure(RecordingPart::Bass), $again->owned()->sure(RecordingPart::Bass), 1e-9);
    }

    /** What four WAVs cannot hold is refused before anything of it is made. */
    public function testWhatIsTooLongIsToldAtOnce(): void
    {
        $folder = Sounds::folder();
        $endless = new class implements AudioSource {
            public function sampleRate(): int
            {
                return 48000;
            }

            public function frames(): int
            {
                return 48000 * 4 * 3600;
            }

            public function read(int $start, int $count): StereoBlock
            {
                throw new \LogicException('Nothing of it is read.');
            }
        };
        try {
            (new ApartFiles($folder, $endless))->make(static fn (float $done) => null);
            self::fail('It is refused.');
        } catch (\InvalidArgumentException $e) {
            self::assertStringContainsString('186 minutes', $e->getMessage());
        }
        self::assertSame([], glob($folder.'/*'));
    }

    public function testHowSureAPartIsSaysWhatNobodyElseHas(): void
    {
        $owned = new Owned();
        // Two bins: one is the drums' alone, of the other the bass has half and the rest is shared out.
        $owned->count([[1.0, 0.1], [0.0, 0.4], [0.0, 0.3], [0.0, 0.2]], [1.0, 1.0], [0.0, 0.0], [0.0, 0.0], [0.0, 0.0], 0.5);
        self::assertEqualsWithDelta((1.0 + 0.01) / 1.1, $owned->sure(RecordingPart::Drums), 1e-12);
        self::assertEqualsWithDelta(0.4, $owned->sure(RecordingPart::Bass), 1e-12);
        self::assertEqualsWithDelta(0.5, $owned->nobodys(), 1e-12);
        self::assertNull((new Owned([1.0, 0.0, 0.0, 0.001], [1.0, 0.0, 0.0, 0.001]))->sure(RecordingPart::Voice), 'As good as nothing is not sure of anything.');
        self::assertSame(1.0, (new Owned([1.0, 0.0, 0.0, 0.0], [1.0, 0.0, 0.0, 0.0]))->and(new Owned())->sure(RecordingPart::Drums));
    }

    /** Worked out four spectra at a time by rows is what the formula says. */
    public function testTheNetworkIsWhatItsFormulaSays(): void
    {
        $noise = new Noise(5);
        $cues = 6;
        $bands = 2;
        $hidden = 3;
        /** @var list<list<array{list<float>, float}>> $layers */
        $layers = [];
        $bytes = json_encode(['cues' => $cues, 'layers' => [[$hidden, $cues], ...array_fill(0, \count(MaskNetwork::STEPS), [$hidden, 3 * $hidden]), [4 * $bands, $hidden]]], \JSON_THROW_ON_ERROR)."\n";
        $bytes .= pack('g*', ...array_fill(0, $cues, 0.5)).pack('g*', ...array_fill(0, $cues, 2.0));
        foreach ([[$hidden, $cues], ...array_fill(0, \count(MaskNetwork::STEPS), [$hidden, 3 * $hidden]), [4 * $bands, $hidden]] as $l => [$rows, $columns]) {
            for ($r = 0; $r < $rows; ++$r) {
                $whole = array_map(static fn (): int => (int) round(100.0 * $noise->next()), range(1, $columns));
                $bias = round(8.0 * $noise->next()) / 8.0;
                $bytes .= pack('g2', 1 / 64, $bias).pack('c*', ...$whole);
                $layers[$l][] = [array_map(static fn (int $w): float => $w / 64, $whole), $bias];
            }
        }
        file_put_contents($path = Sounds::folder().'/small.bin', $bytes);
        $rows = [];
        for ($t = 7; $t < 20; ++$t) {
            $rows[$t] = array_map(static fn (): float => 9.0 * $noise->next(), range(1, $cues));
        }
        $now = array_map(static fn (array $row): array => self::positive(self::applied($layers[0], array_map(static fn (float $x): float => max(-4.0, min(4.0, ($x - 0.5) / 2.0)), $row))), $rows);
        foreach (MaskNetwork::STEPS as $i => $step) {
            $none = array_fill(0, $hidden, 0.0);
            $next = [];
            foreach ($now as $t => $row) {
                $more = self::positive(self::applied($layers[1 + $i], [...$now[$t - $step] ?? $none, ...$row, ...$now[$t + $step] ?? $none]));
                $next[$t] = array_map(static fn (float $a, float $b): float => $a + $b, $row, $more);
            }
            $now = $next;
        }
        $shares = MaskNetwork::read($path)->shares($rows);
        self::assertSame(array_keys($rows), array_keys($shares));
        foreach ($now as $t => $row) {
            $scores = array_map(exp(...), self::applied($layers[\count($layers) - 1], $row));
            for ($b = 0; $b < $bands; ++$b) {
                $sum = array_sum(array_map(static fn (int $part): float => $scores[$part * $bands + $b], range(0, 3)));
                for ($part = 0; $part < 4; ++$part) {
                    self::assertEqualsWithDelta($scores[$part * $bands + $b] / $sum, $shares[$t][$part][$b], 1e-9);
                }
            }
        }
    }

    /**
     * @param list<array{list<float>, float}> $layer rows of weights and their biases
     * @param list<float>                     $in
     *
     * @return list<float>
     */
    private static function applied(array $layer, array $in): array
    {
        return array_map(static fn (array $row): float => $row[1] + array_sum(array_map(static fn (float $w, float $x): float => $w * $x, $row[0], $in)), $layer);
    }

    /**
     * @param list<float> $in
     *
     * @return list<float>
     */
    private static function positive(array $in): array
    {
        return array_map(static fn (float $x): float => max(0.0, $x), $in);
    }

    /** The one that comes with Pestle fits the cues there are. */
    public function testTheFittedNetworkReadsTheseCues(): void
    {
        $shares = MaskNetwork::read(\dirname(__DIR__, 3).'/core/Analysis/models/apart.bin')->shares([array_fill(0, Cues::PER_BAND * Bands::count(), 0.1)]);
        self::assertCount(4, $shares[0]);
        self::assertCount(Bands::count(), $shares[0][0]);
    }

    /** @return array<string, AudioSource> */
    private static function parts(AudioSource $recording, string $folder): array
    {
        $files = new ApartFiles($folder, $recording);
        $files->make(static fn (float $done) => null);
        $parts = [];
        foreach (RecordingPart::cases() as $part) {
            $parts[$part->value] = SoundFile::open($files->path($part));
        }

        return $parts;
    }
}
