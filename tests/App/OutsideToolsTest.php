<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\FileTags;
use Pestle\Core\Analysis\Loudness;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Exchange\Midi\MidiFile;
use Pestle\Core\Exchange\Midi\MidiWriter;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Pestle's files and measures beside ffmpeg's: an independent reader and an independent meter. */
final class OutsideToolsTest extends TestCase
{
    public function testLoudnessAndTruePeakAgreeWithFfmpeg(): void
    {
        $drums = new DrumVoices(44100);
        $sounds = [$drums->snare(), $drums->clap(), new StereoBlock(Sounds::sine(60, 88200, 44100, 0.9), Sounds::sine(5000, 88200, 44100, 0.2)), Sounds::hit(5, 132300, 1.0)];
        // What is full of highs swings far between its values.
        $noise = (new Noise(2))->block(88200);
        $signs = array_map(static fn (float $x): float => $x > 0.0 ? 0.5 : -0.5, $noise);
        $square = array_map(static fn (int $i): float => sin(2 * \M_PI * 5001 / 44100 * $i) >= 0.0 ? 0.6 : -0.6, range(0, 88199));
        array_push($sounds, new StereoBlock($noise, $signs), new StereoBlock($signs, $square), new StereoBlock($square, $square));
        foreach ($sounds as $sound) {
            $long = StereoBlock::silence(0);
            while ($long->frames() < 88200) {
                $long = $long->append($sound);
            }
            $path = $this->file($long, SampleFormat::Float32);
            $ours = Loudness::of(new MemorySource($long, 44100));
            exec(\sprintf('ffmpeg -hide_banner -nostats -i %s -af ebur128=peak=true -f null - 2>&1', escapeshellarg($path)), $lines);
            $report = implode("\n", $lines);
            $lines = [];
            self::assertEqualsWithDelta(self::number('/I:\s+(-?[\d.]+) LUFS\s+Threshold/', $report), $ours->integratedLufs, 0.1);
            self::assertEqualsWithDelta(self::number('/Peak:\s+(-?[\d.]+) dBFS/', $report), $ours->truePeakDb, 0.2);
        }
    }

    /** One channel counts once, and what is left over after the last whole tenth of a second does not count. */
    public function testLoudnessOfMonoAndOfUnevenLengthsAgreesWithFfmpeg(): void
    {
        $loudEnd = array_map(static fn (float $x, int $i): float => $x * ($i > 88200 ? 1.0 : 0.1), Sounds::sine(500, 92000, 44100, 0.9), range(0, 91999));
        foreach ([1, 2] as $channels) {
            $path = $this->file(new StereoBlock($loudEnd, $loudEnd), SampleFormat::Int16);
            $file = \dirname($path).'/b.wav';
            exec(\sprintf('ffmpeg -v error -y -i %s -ac %d -c:a pcm_s24le %s', escapeshellarg($path), $channels, escapeshellarg($file)));
            exec(\sprintf('ffmpeg -hide_banner -nostats -i %s -af ebur128=peak=true -f null - 2>&1', escapeshellarg($file)), $lines);
            self::assertEqualsWithDelta(self::number('/I:\s+(-?[\d.]+) LUFS\s+Threshold/', implode("\n", $lines)), Loudness::of(SoundFile::open($file))->integratedLufs, 0.1, "$channels channels");
            $lines = [];
        }
    }

    public function testOthersReadOurMidiFilesAndWeReadTheirs(): void
    {
        $beats = new RandomBeats(Sounds::folder());
        $folder = Sounds::folder();
        foreach ([1, 3] as $seed) {
            $beat = $beats->felt($seed);
            file_put_contents($folder.'/ours.mid', MidiWriter::of($beat));
            exec(\sprintf('midicsv %s', escapeshellarg($folder.'/ours.mid')), $lines, $failed);
            self::assertSame(0, $failed);
            /** @var list<string> $lines */
            $named = static fn (string $kind): array => array_map(static fn (string $l): array => explode(', ', $l), array_values(array_filter($lines, static fn (string $l): bool => 1 === preg_match('/^\d+, \d+, '.$kind.'\b/', $l))));
            self::assertSame(['0', '0', 'Header', '1', (string) \count(array_unique(array_column($named('(?:Start|Title)\w*'), 0))), '960'], explode(', ', $lines[0]));
            // The first of them: where the tempo moves gradually, it is the mean of a short stretch.
            self::assertEqualsWithDelta(Timeline::song($beat)->bpm(0.0), 60e6 / (float) $named('Tempo')[0][3], 2.0);
            $ours = [];
            foreach (MidiFile::read((string) file_get_contents($folder.'/ours.mid'), 'ours.mid')->tracks as $track) {
                foreach ($track['notes'] as $n) {
                    $ours[] = "$n->tick $n->channel $n->pitch $n->velocity";
                }
            }
            $theirs = array_map(static fn (array $l): string => "$l[1] $l[3] $l[4] $l[5]", $named('Note_on_c'));
            sort($ours);
            sort($theirs);
            self::assertGreaterThan(20, \count($ours));
            self::assertSame($theirs, $ours);
            // And what they write from it, we read as the same.
            exec(\sprintf('midicsv %1$s | csvmidi - %2$s', escapeshellarg($folder.'/ours.mid'), escapeshellarg($folder.'/theirs.mid')), $none, $failed);
            self::assertSame(0, $failed);
            self::assertEquals(MidiFile::read((string) file_get_contents($folder.'/ours.mid'), 'x')->tracks, MidiFile::read((string) file_get_contents($folder.'/theirs.mid'), 'x')->tracks);
            $lines = [];
        }
    }

    public function testOthersReadOurFilesAndWeReadTheirs(): void
    {
        $block = Sounds::hit(6, 12_345, 0.9);
        foreach ([SampleFormat::Int16, SampleFormat::Int24, SampleFormat::Float32] as $format) {
            $path = $this->file($block, $format);
            $ours = Sounds::whole(SoundFile::open($path));
            $folder = Sounds::folder();
            foreach (['pcm_u8.wav', 'pcm_s16le.wav', 'pcm_s24le.wav', 'pcm_s32le.wav', 'pcm_f32le.wav', 'pcm_f64le.wav', 'pcm_s16be.aiff', 'pcm_s24be.aiff', 'pcm_s32be.aiff', 'pcm_f32be.aiff'] as $kind) {
                [$codec, $ending] = explode('.', $kind);
                exec(\sprintf('ffmpeg -v error -y -i %s -c:a %s %s/a.%s', escapeshellarg($path), $codec, $folder, $ending), $output, $code);
                self::assertSame(0, $code, $kind);
                $theirs = SoundFile::open($folder.'/a.'.$ending);
                self::assertSame([12_345, 44100, 2], [$theirs->frames(), $theirs->sampleRate(), $theirs->channels], $kind);
                $error = match ($codec) {
                    'pcm_u8' => 1.01 / 128,
                    'pcm_s16le', 'pcm_s16be' => 1.01 / 32768,
                    default => 1.01 / 8388608,
                };
                foreach (Sounds::whole($theirs)->right as $i => $x) {
                    if (abs($x - $ours->right[$i]) > $error) {
                        self::fail(\sprintf('%s differs at frame %d: %.9f, not %.9f.', $kind, $i, $x, $ours->right[$i]));
                    }
                }
            }
        }
    }

    public function testManyChannelsAndRatesFromOutside(): void
    {
        $path = $this->file(Sounds::hit(2, 9600, 0.3), SampleFormat::Int16);
        $folder = Sounds::folder();
        foreach (['mono' => 1, 'stereo' => 2, 'quad' => 4, '5.1' => 6, '7.1' => 8] as $layout => $channels) {
            foreach ([8000, 48000, 192000] as $rate) {
                exec(\sprintf('ffmpeg -v error -y -i %s -af aformat=channel_layouts=%s -ar %d -c:a pcm_s24le %s/a.wav', escapeshellarg($path), $layout, $rate, $folder), $output, $code);
                self::assertSame(0, $code);
                $file = SoundFile::open($folder.'/a.wav');
                self::assertSame([$channels, $rate], [$file->channels, $file->sampleRate()]);
                self::assertSame([], $file->repairs);
                self::assertGreaterThan(0.02, $file->read(0, $file->frames())->peak());
            }
        }
    }

    /** A file that names another is looked into no further than what it says it is. */
    public function testATagThatNamesAnotherFileOpensNone(): void
    {
        $folder = Sounds::folder();
        $wav = $this->file(Sounds::hit(2, 20000, 0.3), SampleFormat::Int16);
        exec(\sprintf('ffmpeg -v error -y -i %s -metadata TBPM=133 -c:a libmp3lame %s/tagged.mp3', escapeshellarg($wav), $folder), $output, $code);
        self::assertSame(0, $code);
        self::assertSame(['bpm' => 133.0], FileTags::of($folder.'/tagged.mp3'));
        // A pipe tells when somebody opens it.
        posix_mkfifo($folder.'/secret.mp3', 0o600);
        $watch = proc_open(['sh', '-c', 'cat "$1"/tagged.mp3 > "$1"/secret.mp3; touch "$1"/opened', 'sh', $folder], [], $pipes) ?: self::fail('No process.');
        $tag = 'ID3'.pack('C7', 3, 0, 0, 0, 0, 0, 0);
        foreach (["#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n$folder/secret.mp3\n#EXT-X-ENDLIST\n", "ffconcat version 1.0\nfile secret.mp3\n"] as $text) {
            foreach ([$tag, ''] as $before) {
                file_put_contents("$folder/hostile.mp3", $before.$text);
                self::assertSame([], FileTags::of("$folder/hostile.mp3"));
            }
        }
        self::assertFileDoesNotExist($folder.'/opened');
        proc_terminate($watch, \SIGKILL);
        proc_close($watch);
    }

    private static function number(string $pattern, string $report): float
    {
        return 1 === preg_match($pattern, $report, $found) ? (float) $found[1] : self::fail($report);
    }

    private function file(StereoBlock $block, SampleFormat $format): string
    {
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, $format);
        $writer->write($block);
        $writer->close();

        return $path;
    }
}
