<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\SampleStore;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;

final class GatherTest extends AppCase
{
    public function testAFileBecomesASampleOnce(): void
    {
        $bytes = self::wav(Sounds::hit(3, 44100));
        $state = self::upload('Tin_roof rain.wav', $bytes);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertSame(['Tin roof rain', 44100, 44100], [$state['sample']['name'], $state['sample']['frames'], $state['sample']['rate']]);
        $hash = self::text($state['sample']['hash']);
        self::assertSame(hash('sha256', $bytes), $hash);
        self::assertFileExists(self::$data.'/originals/'.substr($hash, 0, 2).'/'.$hash);
        $again = self::upload('the same.wav', $bytes);
        self::assertIsArray($again['sample']);
        self::assertSame('Tin roof rain', $again['sample']['name']);
        self::assertSame([], array_diff(scandir(self::$data.'/incoming') ?: [], ['.', '..']));
        self::assertSame(200, self::ask('GET', "/samples/$hash/outline/0/0")->getStatusCode());
        self::assertSame(4 * 100, \strlen((string) self::ask('GET', "/samples/$hash/frames?from=44000&count=100")->getContent()));
        self::assertIsArray(self::json(self::ask('GET', "/samples/$hash/hits?sensitivity=90"))['hits']);
    }

    public function testPartsMayBeSentAgainButNotLeftOut(): void
    {
        $bytes = self::wav(Sounds::hit(4, 600_000));
        $id = self::text(self::json(self::ask('POST', '/uploads', ['name' => 'long.wav', 'size' => \strlen($bytes)]))['id']);
        $part = static fn (int $at, int $length = 1_000_000): \Symfony\Component\HttpFoundation\Response => self::ask('PUT', "/uploads/$id?at=$at", substr($bytes, $at, $length));
        self::assertSame(422, $part(1_000_000)->getStatusCode());
        foreach ([0, 0, 1_000_000, 2_000_000] as $at) {
            self::assertSame(200, $part($at)->getStatusCode());
        }
        self::assertSame('listening', self::json($part(3_000_000))['state']);
        self::assertSame(422, $part(0)->getStatusCode());
        self::work();
        $sample = self::json(self::ask('GET', "/uploads/$id"))['sample'];
        self::assertIsArray($sample);
        self::assertSame(hash('sha256', $bytes), $sample['hash']);
    }

    public function testACancelledUploadLeavesNothing(): void
    {
        $id = self::text(self::json(self::ask('POST', '/uploads', ['name' => 'a.wav', 'size' => 5000]))['id']);
        self::ask('PUT', "/uploads/$id?at=0", str_repeat('x', 1000));
        self::assertFileExists(self::$data.'/incoming/'.$id);
        self::assertSame('failed', self::json(self::ask('DELETE', "/uploads/$id"))['state']);
        self::assertFileDoesNotExist(self::$data.'/incoming/'.$id);
    }

    /** @return iterable<string, array{string, string}> encoder of ffmpeg and ending */
    public static function foreign(): iterable
    {
        yield 'FLAC' => ['flac', 'flac'];
        yield 'MP3' => ['libmp3lame', 'mp3'];
        yield 'Ogg' => ['libvorbis', 'ogg'];
    }

    #[DataProvider('foreign')]
    public function testOtherFormatsAreDecoded(string $codec, string $ending): void
    {
        $folder = Sounds::folder();
        $sine = Sounds::sine(440, 88200);
        file_put_contents($folder.'/a.wav', self::wav(new StereoBlock($sine, $sine)));
        exec(\sprintf('ffmpeg -v error -i %1$s/a.wav -c:a %2$s %1$s/a.%3$s', $folder, $codec, $ending), $output, $code);
        self::assertSame(0, $code);
        $state = self::upload('tone.'.$ending, (string) file_get_contents($folder.'/a.'.$ending));
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        $sound = self::service(SampleStore::class)->library()->open(self::text($state['sample']['hash']));
        self::assertEqualsWithDelta(88200, $sound->frames(), 3000);
        self::assertEqualsWithDelta(0.5, $sound->read(40000, 4000)->peak(), 0.05);
        self::assertLessThan(-35.0, Sounds::unwanted($sound->read(40000, 4000)->left, 440, 44100));
    }

    /** @return iterable<string, array{string, non-empty-string}> */
    public static function bad(): iterable
    {
        yield 'a picture named .wav' => ["\x89PNG\r\n\x1a\n".str_repeat("\0", 50), 'picture.wav: this is not a WAV file'];
        yield 'text' => ['hello', 'picture.wav: this is not a WAV file'];
        yield 'a cut FLAC' => ['fLaC'.str_repeat("\0", 30), 'picture.wav: it looks like FLAC but cannot be decoded'];
        yield 'a playlist posing as Ogg' => ["OggS\nfile '/etc/passwd'", 'picture.wav: it looks like OGG but cannot be decoded'];
    }

    /** @param non-empty-string $message */
    #[DataProvider('bad')]
    public function testWhatIsNoSoundIsRefusedByName(string $bytes, string $message): void
    {
        $state = self::upload('picture.wav', $bytes);
        self::assertSame('failed', $state['state']);
        self::assertStringStartsWith($message, self::text($state['message']));
        self::assertNull($state['sample']);
        self::assertSame([], glob(self::$data.'/samples/*/*.part'));
    }

    public function testTheOddestSoundsComeIn(): void
    {
        $one = self::upload('one.wav', self::wav(new StereoBlock([0.5], [0.5])));
        self::assertSame('done', $one['state'], self::text($one['message']));
        $silence = self::upload('silence.wav', self::wav(StereoBlock::silence(44100)));
        self::assertIsArray($silence['sample']);
        self::assertFalse($silence['sample']['loop']);
        $many = 'WAVEfmt '.pack('VvvVVvv', 16, 1, 16, 384000, 0, 32, 16).'data'.pack('V', 3200).str_repeat("\x00\x10", 1600);
        $state = self::upload('many.wav', 'RIFF'.pack('V', \strlen($many)).$many);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertSame('16 channels are played folded down to stereo', self::service(SampleStore::class)->find(self::text($state['sample']['hash']))?->note);
    }

    private static function wav(StereoBlock $block): string
    {
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write($block);
        $writer->close();

        return (string) file_get_contents($path);
    }
}
