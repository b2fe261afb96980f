<?php

namespace Pestle\Tests\Core\Audio;

use Pestle\Core\Audio\AiffReader;
use Pestle\Core\Audio\Dither;
use Pestle\Core\Audio\NoiseShaping;
use Pestle\Core\Audio\PcmDecoder;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\Unpacked;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Audio\WavReader;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Peak;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

final class SoundFilesTest extends TestCase
{
    /** @return iterable<string, array{SampleFormat, float}> */
    public static function formats(): iterable
    {
        yield '16 bit' => [SampleFormat::Int16, 0.5 / 32768];
        yield '24 bit' => [SampleFormat::Int24, 0.5 / 8388608];
        yield 'float' => [SampleFormat::Float32, 3e-8];
    }

    #[DataProvider('formats')]
    public function testWhatIsWrittenIsReadBack(SampleFormat $format, float $error): void
    {
        foreach ([1, 2, 3, 4097] as $frames) {
            $block = Sounds::hit(3, $frames, 0.9);
            $file = SoundFile::open($this->write($block, $format));
            self::assertSame([$frames, 44100, 2, []], [$file->frames(), $file->sampleRate(), $file->channels, $file->repairs]);
            $read = Sounds::whole($file);
            foreach ($block->left as $i => $x) {
                self::assertEqualsWithDelta($x, $read->left[$i], $error);
                self::assertEqualsWithDelta($block->right[$i], $read->right[$i], $error);
            }
        }
    }

    public function testReadingInPiecesIsReadingAtOnceAndOutsideIsSilence(): void
    {
        $file = SoundFile::open($this->write(Sounds::hit(4, 1001), SampleFormat::Int16));
        $whole = $file->read(-10, 1030);
        self::assertSame(array_fill(0, 10, 0.0), \array_slice($whole->left, 0, 10));
        self::assertSame(array_fill(0, 19, 0.0), \array_slice($whole->right, 1011));
        $pieces = StereoBlock::silence(0);
        for ($at = -10; $at < 1020; $at += 103) {
            $pieces = $pieces->append($file->read($at, 103));
        }
        self::assertEquals($whole, $pieces);
    }

    public function testFullScaleIsClippedNotWrapped(): void
    {
        $read = Sounds::whole(SoundFile::open($this->write(new StereoBlock([1.5, -1.5], [1.0, -1.0]), SampleFormat::Int16)));
        self::assertSame([32767 / 32768, -1.0], $read->left);
        self::assertSame([32767 / 32768, -1.0], $read->right);
    }

    public function testDitherTurnsDistortionIntoNoise(): void
    {
        // A sine of half a step: without dither nothing of it is left, with dither it is there under noise.
        $quiet = Sounds::sine(1000, 44100, 44100, 0.45 / 32768);
        $path = Sounds::folder().'/a.wav';
        foreach ([[null, 0.0], [new Dither(3), 1.0]] as [$dither, $expected]) {
            $writer = new WavWriter($path, 44100, SampleFormat::Int16, $dither);
            $writer->write(new StereoBlock($quiet, $quiet));
            $writer->close();
            $read = Sounds::whole(SoundFile::open($path))->left;
            $found = array_sum(array_map(static fn (float $x, float $y): float => $x * $y, $read, $quiet)) / array_sum(array_map(static fn (float $x): float => $x * $x, $quiet));
            self::assertEqualsWithDelta($expected, $found, 0.1);
        }
    }

    /** Shaped, the rounding error is at least 12 dB less between 1 and 6 kHz and more above, stays noise, and does not grow at full scale. */
    public function testShapedDitherMovesTheErrorToWhereEarsHearLeast(): void
    {
        $sine = Sounds::sine(441, 65536, 44100, 0.3);
        $path = Sounds::folder().'/a.wav';
        $power = [];
        foreach ([false, true] as $shaped) {
            $writer = new WavWriter($path, 44100, SampleFormat::Int16, new Dither(3, $shaped));
            foreach (array_chunk($sine, 5000) as $part) {
                $writer->write(new StereoBlock($part, $part));
            }
            $writer->close();
            $read = Sounds::whole(SoundFile::open($path))->left;
            $error = array_map(static fn (float $x, float $y): float => ($x - $y) * 32768.0, $read, $sine);
            $band = Biquad::highPass(1000, 0.71, 44100)->filter($error);
            for ($i = 0; $i < 4; ++$i) {
                $band = Biquad::lowPass(5500, 0.71, 44100)->filter($band);
            }
            $high = Biquad::highPass(14000, 0.71, 44100)->filter($error);
            $rms = static fn (array $side): float => Decibels::fromGain(sqrt(self::power($side) / \count($side)));
            $power[] = [$rms($band), $rms($high), $rms($error)];
            self::assertEqualsWithDelta(0.0, array_sum($error) / \count($error), 0.02, 'no offset');
            // It is noise: nothing of it follows the sine.
            self::assertLessThan(0.01, abs(array_sum(array_map(static fn (float $x, float $y): float => $x * $y, $error, $sine)) / self::power($sine)));
        }
        self::assertLessThan($power[0][0] - 12.0, $power[1][0]);
        self::assertGreaterThan($power[0][1] + 6.0, $power[1][1]);
        self::assertLessThan($power[0][2] + 16.0, $power[1][2]);
        $shaping = new NoiseShaping();
        $loud = $shaping->rounded(array_fill(0, 3000, 40000.0), array_fill(0, 3000, 0.0), 32768.0);
        self::assertSame([32767.0], array_values(array_unique($loud)));
        $after = $shaping->rounded(array_fill(0, 200, 100.0), array_fill(0, 200, 0.0), 32768.0);
        self::assertEqualsWithDelta(100.0, array_sum($after) / 200, 0.5, 'what was cut is soon forgotten');
    }

    /** @return iterable<string, array{string, list<float>, list<float>}> fmt and data of a WAV, expected left and right */
    public static function wavs(): iterable
    {
        $fmt = static fn (int $tag, int $channels, int $bits): string => pack('vvVVvv', $tag, $channels, 48000, 0, intdiv($channels * $bits, 8), $bits);
        yield '8 bit mono' => [self::riff($fmt(1, 1, 8), "\x00\x80\xFF"), [-1.0, 0.0, 127 / 128], [-1.0, 0.0, 127 / 128]];
        yield '16 bit mono' => [self::riff($fmt(1, 1, 16), pack('v3', 0x8000, 0, 0x4000)), [-1.0, 0.0, 0.5], [-1.0, 0.0, 0.5]];
        yield '24 bit stereo' => [self::riff($fmt(1, 2, 24), "\x00\x00\x80\x00\x00\x40"), [-1.0], [0.5]];
        yield '32 bit stereo' => [self::riff($fmt(1, 2, 32), pack('V2', 0x80000000, 0x40000000)), [-1.0], [0.5]];
        yield 'float 64' => [self::riff($fmt(3, 2, 64), pack('e2', 0.25, -1.75)), [0.25], [-1.75]];
        yield 'not a number becomes silence' => [self::riff($fmt(3, 1, 32), pack('g2', \NAN, 0.5)), [0.0, 0.5], [0.0, 0.5]];
        yield 'extensible' => [self::riff($fmt(0xFFFE, 2, 16).pack('vvVv', 22, 16, 3, 1).str_repeat("\0", 14), pack('v2', 0x4000, 0xC000)), [0.5], [-0.5]];
        yield 'four channels folded' => [self::riff($fmt(3, 4, 32), pack('g4', 0.1, 0.2, 0.3, 0.4)), [0.1 + 0.7 * \M_SQRT1_2], [0.2 + 0.7 * \M_SQRT1_2]];
        $surround = static fn (int $channels, int $places): string => $fmt(0xFFFE, $channels, 32).pack('vvVv', 22, 32, $places, 3).str_repeat("\0", 14);
        $half = \M_SQRT1_2;
        yield '5.1: the effects channel is left out' => [self::riff($surround(6, 0x3F), pack('g6', 0.1, 0.2, 0.3, 0.9, 0.4, 0.5)), [0.1 + 0.7 * $half], [0.2 + 0.8 * $half]];
        yield '5.1 that does not say so' => [self::riff($fmt(3, 6, 32), pack('g6', 0.1, 0.2, 0.3, 0.9, 0.4, 0.5)), [0.1 + 0.7 * $half], [0.2 + 0.8 * $half]];
        yield '7.1 with sides' => [self::riff($surround(8, 0x63F), pack('g8', 0.1, 0.2, 0, 0.9, 0.3, 0.4, 0.2, 0.1)), [0.1 + 0.5 * $half], [0.2 + 0.5 * $half]];
        yield 'BW64' => [substr_replace(self::riff($fmt(1, 1, 16), pack('v', 0x4000)), 'BW64', 0, 4), [0.5], [0.5]];
        yield 'odd chunks before the sound' => [self::riff($fmt(1, 1, 16), pack('v', 0x4000), "LIST\x03\0\0\0abc\0junk\x01\0\0\0x\0"), [0.5], [0.5]];
        yield 'half a frame at the end' => [self::riff($fmt(1, 2, 16), pack('v3', 0x4000, 0x4000, 1)), [0.5], [0.5]];
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     */
    #[DataProvider('wavs')]
    public function testEveryKindOfWavIsRead(string $bytes, array $left, array $right): void
    {
        $file = $this->open($bytes);
        $block = Sounds::whole($file);
        self::assertEqualsWithDelta($left, $block->left, 1e-7);
        self::assertEqualsWithDelta($right, $block->right, 1e-7);
    }

    public function testNumbersAreUnpackedAsUnpackDoesAnyCountOfThem(): void
    {
        $random = new Randomizer(new Xoshiro256StarStar(7));
        foreach ([0, 1, 31, 32, 33, 100] as $count) {
            foreach (['C' => 1, 'v' => 2, 'n' => 2, 'V' => 4, 'N' => 4, 'q' => 8, 'E' => 8] as $code => $size) {
                $bytes = 0 === $count ? '' : $random->getBytes($count * $size);
                $expected = 0 === $count ? [] : array_values(unpack($code.'*', $bytes) ?: []);
                // Compared as text, since some of these floats are not numbers. What is left over at the end is no whole number.
                self::assertSame(serialize($expected), serialize(Unpacked::numbers($code, $size, $bytes.substr('abcdefg', 0, $size - 1))));
            }
        }
        $values = array_map(static fn (int $i): int => $random->getInt(-8388608, 8388607), range(1, 77));
        $little = implode('', array_map(static fn (int $v): string => substr(pack('V', $v), 0, 3), $values));
        $big = implode('', array_map(static fn (int $v): string => substr(pack('N', $v), 1), $values));
        $expected = array_map(static fn (int $v): float => $v / 8388608, $values);
        self::assertSame($expected, (new PcmDecoder(SampleFormat::Int24, 1))->decode($little)->left);
        self::assertSame($expected, (new PcmDecoder(SampleFormat::Int24, 1, true))->decode($big)->right);
    }

    public function testHeadersThatLieAreRepairedAndSaid(): void
    {
        $good = self::riff(pack('vvVVvv', 1, 1, 44100, 0, 2, 16), pack('v4', 1, 2, 3, 4));
        $lying = substr_replace($good, pack('V', 4_000_000_000), strpos($good, 'data') + 4, 4);
        $file = $this->open($lying);
        self::assertSame(4, $file->frames());
        self::assertSame(['the header promises 4,000,000,000 bytes of sound, 8 are there; what is there was read'], $file->repairs);
        $unfinished = $this->open(substr_replace($good, "\0\0\0\0", strpos($good, 'data') + 4, 4));
        self::assertSame(4, $unfinished->frames());
        self::assertNotEmpty($unfinished->repairs);
    }

    /** @return iterable<string, array{string, string}> */
    public static function unreadable(): iterable
    {
        $fmt = pack('vvVVvv', 1, 1, 44100, 0, 2, 16);
        yield 'empty' => ['', 'this is not a WAV file'];
        yield 'a picture' => ["\x89PNG\r\n\x1a\n".str_repeat('x', 100), 'this is not a WAV file'];
        yield 'cut before the sound' => [substr(self::riff($fmt, 'ab'), 0, 30), 'the WAV header is cut short'];
        yield 'no format' => ['RIFF'.pack('V', 100).'WAVEdata'.pack('V', 2).'ab', 'does not say its format'];
        yield 'no frame' => [self::riff($fmt, ''), 'there is no sound in it'];
        yield 'chunks without end' => [self::riff($fmt, 'abcd', str_repeat("none\0\0\0\0", 10_000)), 'ends before its sound begins'];
        yield 'no sound, then words' => [self::riff($fmt, '').'LIST'.pack('V', 24).'INFOICMT'.pack('V', 12).'a rainy day.', 'there is no sound in it'];
        yield 'no channels' => [self::riff(pack('vvVVvv', 1, 0, 44100, 0, 2, 16), 'abcd'), '0 channels'];
        yield 'an odd rate' => [self::riff(pack('vvVVvv', 1, 1, 7, 0, 2, 16), 'abcd'), '7 Hz'];
        yield 'a compressed kind' => [self::riff(pack('vvVVvv', 2, 1, 44100, 0, 2, 4), 'abcd'), 'is not supported'];
        yield 'a cut AIFF' => ['FORM'.pack('N', 4).'AIFF', 'the AIFF file is cut short'];
    }

    #[DataProvider('unreadable')]
    public function testWhatCannotBeReadIsRefusedByName(string $bytes, string $reason): void
    {
        try {
            $this->open($bytes);
            self::fail('It was read.');
        } catch (UnreadableAudio $e) {
            self::assertStringStartsWith('sound.wav: ', $e->getMessage());
            self::assertStringContainsString($reason, $e->getMessage());
        }
    }

    public function testAiffIsRead(): void
    {
        $rate = "\x40\x0E\xBB\x80\0\0\0\0\0\0"; // 48000 as an 80-bit float
        $common = pack('nNn', 2, 2, 16).$rate;
        $sound = pack('N2n4', 0, 0, 0x4000, 0xC000, 0x8000, 0);
        $aiff = 'AIFFCOMM'.pack('N', \strlen($common)).$common.'SSND'.pack('N', \strlen($sound)).$sound;
        $file = AiffReader::read($this->stream('FORM'.pack('N', \strlen($aiff)).$aiff), 'a.aif');
        self::assertSame([48000, 2, 2], [$file->sampleRate(), $file->channels, $file->frames()]);
        self::assertEquals(new StereoBlock([0.5, -1.0], [-0.5, 0.0]), Sounds::whole($file));
        $little = 'AIFCCOMM'.pack('N', 22).$common.'sowtSSND'.pack('N', 16).pack('N2v4', 0, 0, 0x4000, 0xC000, 0x8000, 0);
        self::assertEquals(Sounds::whole($file), Sounds::whole(AiffReader::read($this->stream('FORM'.pack('N', \strlen($little)).$little), 'a.aifc')));
    }

    public function testOutlinesHoldEveryPeakAtEveryZoom(): void
    {
        $left = array_fill(0, 50_000, 0.0);
        $left[31_234] = 0.8;
        $left[31_235] = -0.6;
        $left = array_values($left);
        $source = SoundFile::open($this->write(new StereoBlock($left, $left), SampleFormat::Int24));
        $overview = WaveOverview::decode(WaveOverview::of($source)->encode());
        foreach ($overview->levels as $level) {
            /** @var non-empty-array<int, int> $values */
            $values = unpack('c*', $level);
            self::assertSame(102, max($values));
            self::assertSame(-77, min($values));
        }
        $outline = $overview->outline(100);
        self::assertCount(100, $outline);
        self::assertEqualsWithDelta(0.8, $outline[62][1], 0.01);
        self::assertSame(0.0, Peak::of(array_column($overview->outline(50, 0, 30_000), 1)));
        self::assertSame(1, $overview->sides);
        // Sides that differ are kept apart; an outline shows both as one, a tile says how many there are.
        $both = WaveOverview::decode(WaveOverview::of(SoundFile::open($this->write(new StereoBlock($left, array_reverse($left)), SampleFormat::Int24)))->encode());
        self::assertSame(2, $both->sides);
        self::assertSame([0, 0, -77, 102], \array_slice(array_values(unpack('c*', $both->levels[0]) ?: []), 4 * intdiv(18_765, 64), 4));
        self::assertEqualsWithDelta(0.8, $both->outline(100)[62][1], 0.01);
        self::assertEqualsWithDelta(0.8, $both->outline(100)[37][1], 0.01);
        self::assertSame([\chr(2), 1 + 4 * 782, 1], [$both->tile(0, 0)[0], \strlen($both->tile(0, 0)), \strlen($both->tile(0, 1))]);
    }

    private static function riff(string $fmt, string $data, string $before = ''): string
    {
        $body = 'WAVEfmt '.pack('V', \strlen($fmt)).$fmt.$before.'data'.pack('V', \strlen($data)).$data;

        return 'RIFF'.pack('V', \strlen($body)).$body;
    }

    private function write(StereoBlock $block, SampleFormat $format): string
    {
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, $format);
        $writer->write($block);
        self::assertFileDoesNotExist($path);
        $writer->close();

        return $path;
    }

    private function open(string $bytes): PcmFile
    {
        return str_starts_with($bytes, 'FORM') ? AiffReader::read($this->stream($bytes), 'sound.wav') : WavReader::read($this->stream($bytes), 'sound.wav');
    }

    /** @return resource */
    private function stream(string $bytes)
    {
        $stream = tmpfile() ?: throw new \RuntimeException();
        fwrite($stream, $bytes);
        rewind($stream);

        return $stream;
    }

    /** What is not PCM says how its format goes on and how many frames there are; PCM needs neither. */
    public function testHeadersAreAsTheFormatAsks(): void
    {
        foreach ([[SampleFormat::Float32, 18, true], [SampleFormat::Int16, 16, false]] as [$format, $size, $fact]) {
            $path = Sounds::folder().'/a.wav';
            $writer = new WavWriter($path, 44100, $format);
            $writer->write(Sounds::hit(1, 777));
            $writer->close();
            $bytes = (string) file_get_contents($path);
            self::assertSame(pack('V', \strlen($bytes) - 8), substr($bytes, 4, 4));
            self::assertSame('fmt '.pack('V', $size), substr($bytes, 12, 8));
            self::assertSame($fact, str_contains(substr($bytes, 0, 60), 'fact'.pack('VV', 4, 777)));
            self::assertSame(777, SoundFile::open($path)->frames());
        }
    }

    public function testWhatWouldPoisonOrSlowDownFiltersIsSilence(): void
    {
        $bytes = pack('e*', 0.5, 1e-310, -1e-310, \NAN, \INF, -0.25);
        self::assertEquals(new StereoBlock([0.5, 0.0, 0.0], [0.0, 0.0, -0.25]), (new PcmDecoder(SampleFormat::Float64, 2))->decode($bytes));
    }

    /** @param array<mixed> $side */
    private static function power(array $side): float
    {
        return array_sum(array_map(static fn (mixed $x): float => \is_float($x) ? $x * $x : 0.0, $side));
    }
}
