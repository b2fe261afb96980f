<?php

namespace Pestle\Tests\Core\Audio;

use Pestle\Core\Audio\AiffReader;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavReader;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Files that were damaged by chance are read as far as they go, or refused by name; nothing else happens. */
final class BrokenFilesTest extends TestCase
{
    /** @return iterable<string, array{string}> */
    public static function files(): iterable
    {
        foreach ([SampleFormat::Int16, SampleFormat::Int24, SampleFormat::Float32] as $format) {
            $path = Sounds::folder().'/a.wav';
            $writer = new WavWriter($path, 44100, $format);
            $writer->write(Sounds::hit(1, 300));
            $writer->close();
            yield 'WAV '.$format->label() => [(string) file_get_contents($path)];
        }
        $common = pack('nNn', 2, 300, 16)."\x40\x0E\xBB\x80\0\0\0\0\0\0";
        $body = 'AIFFCOMM'.pack('N', 18).$common.'SSND'.pack('N', 1208).pack('N2', 0, 0).str_repeat("\x12\x34", 600);
        yield 'AIFF' => ['FORM'.pack('N', \strlen($body)).$body];
    }

    #[DataProvider('files')]
    public function testDamageIsSurvived(string $good): void
    {
        $chance = new Randomizer(new Xoshiro256StarStar(crc32($good)));
        $read = $refused = 0;
        for ($i = 0; $i < 600; ++$i) {
            $bytes = $good;
            for ($k = $chance->getInt(1, 6); $k > 0; --$k) {
                // Mostly the header, where it hurts.
                $at = $chance->getInt(0, 0 === $chance->getInt(0, 9) ? \strlen($bytes) - 1 : 60);
                $bytes[$at] = \chr($chance->getInt(0, 255));
            }
            if (0 === $chance->getInt(0, 4)) {
                $bytes = substr($bytes, 0, $chance->getInt(0, \strlen($bytes)));
            }
            try {
                $stream = tmpfile() ?: throw new \RuntimeException();
                fwrite($stream, $bytes);
                rewind($stream);
                $file = str_starts_with($good, 'FORM') ? AiffReader::read($stream, 'broken') : WavReader::read($stream, 'broken');
                self::assertGreaterThan(0, $file->frames());
                self::assertLessThanOrEqual(\strlen($bytes), $file->frames(), 'no more sound than bytes');
                $block = $file->read(0, min(400, $file->frames()));
                self::assertCount(min(400, $file->frames()), $block->left);
                foreach ([...$block->left, ...$block->right] as $x) {
                    if (!is_finite($x)) {
                        self::fail('Not a number came through.');
                    }
                }
                ++$read;
            } catch (UnreadableAudio $e) {
                self::assertStringStartsWith('broken: ', $e->getMessage());
                ++$refused;
            }
        }
        self::assertGreaterThan(30, $read);
        self::assertGreaterThan(30, $refused);
    }

    public function testSilenceOfAnyLengthIsWrittenAndRead(): void
    {
        foreach ([1, 63, 64, 65, 4095, 4096, 4097] as $frames) {
            $path = Sounds::folder().'/a.wav';
            $writer = new WavWriter($path, 48000, SampleFormat::Int24);
            $writer->write(\Pestle\Core\Audio\StereoBlock::silence($frames));
            $writer->close();
            self::assertSame(44 + 6 * $frames, filesize($path));
            self::assertSame($frames, WavReader::open($path)->frames());
        }
    }

    public function testADiscardedFileLeavesNothing(): void
    {
        $folder = Sounds::folder();
        $writer = new WavWriter($folder.'/a.wav', 44100, SampleFormat::Int16);
        $writer->write(Sounds::hit(1, 1000));
        $writer->discard();
        self::assertSame([], glob($folder.'/*'));
        $this->expectExceptionMessage('/nowhere/a.wav cannot be written. Check the folder and its rights.');
        new WavWriter('/nowhere/a.wav', 44100, SampleFormat::Int16);
    }
}
