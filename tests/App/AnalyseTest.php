<?php

namespace Pestle\Tests\App;

use Pestle\App\Demo\KettleSteam;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Output\BufferedOutput;

/** `pestle:analyse`: what scripts are told of a file. */
final class AnalyseTest extends AppCase
{
    public function testEverythingHeardIsToldAsJson(): void
    {
        $kit = new DrumVoices(44100);
        $mix = array_fill(0, 4 * 88200, 0.0);
        for ($i = 0; $i < 32; ++$i) {
            foreach ([$kit->kick(), $kit->shaker(), $kit->snare(), $kit->shaker()][$i % 4]->left as $n => $x) {
                if ($i * 11025 + $n < 4 * 88200) {
                    $mix[$i * 11025 + $n] += 0.5 * $x;
                }
            }
        }
        $mix = array_values($mix);
        [$status, $facts] = $this->analyse($this->file(new StereoBlock($mix, $mix)));
        self::assertSame(0, $status);
        self::assertSame(['seconds', 'sample_rate', 'channels', 'kind', 'role', 'peak', 'onsets', 'hits', 'tempo', 'meter', 'beats', 'downbeats', 'key', 'tuning_cents', 'pitch', 'notes', 'loudness'], array_keys($facts));
        self::assertEquals([8.0, 44100, 2, 'loop'], [$facts['seconds'], $facts['sample_rate'], $facts['channels'], $facts['kind']]);
        self::assertIsArray($facts['tempo']);
        self::assertSame(['bpm', 'confidence', 'alternatives'], array_keys($facts['tempo']));
        self::assertEqualsWithDelta(120.0, $facts['tempo']['bpm'], 0.5);
        self::assertIsArray($facts['onsets']);
        self::assertCount(32, $facts['onsets']);
        self::assertIsArray($facts['hits']);
        foreach ($facts['hits'] as $i => $hit) {
            self::assertIsArray($hit);
            self::assertSame(['time', 'role', 'confidence'], array_keys($hit));
            self::assertSame($facts['onsets'][$i], $hit['time']);
            self::assertEqualsWithDelta($i * 0.25, $hit['time'], 0.02);
        }
        self::assertIsArray($facts['hits'][0]);
        self::assertSame('kick', $facts['hits'][0]['role']);
        self::assertIsArray($facts['beats']);
        self::assertCount(16, $facts['beats']);
        self::assertIsArray($facts['downbeats']);
        self::assertCount(4, $facts['downbeats']);
        self::assertEquals(0, $facts['downbeats'][0]);
        self::assertIsArray($facts['loudness']);
        self::assertSame(['integrated_lufs', 'true_peak_dbtp'], array_keys($facts['loudness']));
    }

    public function testANoteHasItsPitch(): void
    {
        $tone = array_map(static fn (float $a, float $b): float => $a + $b, Sounds::sine(196.5, 66150, 44100, 0.4), Sounds::sine(393, 66150, 44100, 0.2));
        [, $facts] = $this->analyse($this->file(new StereoBlock($tone, $tone)));
        self::assertSame('one-shot', $facts['kind']);
        self::assertIsArray($facts['pitch']);
        self::assertSame(55, $facts['pitch']['midi']);
        self::assertEqualsWithDelta(4.4, $facts['pitch']['cents'], 1.0);
        self::assertGreaterThan(0.9, $facts['pitch']['confidence']);
        self::assertNull($facts['tempo']);
        // For people there are lines instead.
        $output = new BufferedOutput();
        self::assertSame(0, $this->run_analyse($this->file(new StereoBlock($tone, $tone)), false, $output));
        $text = $output->fetch();
        self::assertMatchesRegularExpression('/^kind +one-shot$/m', $text);
        self::assertMatchesRegularExpression('/^tempo +not found$/m', $text);
        self::assertMatchesRegularExpression('/^pitch +"midi":55/m', $text);
    }

    /** @return iterable<string, array{string, string}> bytes and what is said */
    public static function broken(): iterable
    {
        $fmt = static fn (int $channels, int $rate, int $bits = 16): string => 'fmt '.pack('VvvVVvv', 16, 1, $channels, $rate, $rate * $channels * $bits / 8, $channels * $bits / 8, $bits);
        $wav = static fn (string $chunks): string => 'RIFF'.pack('V', 4 + \strlen($chunks)).'WAVE'.$chunks;
        yield 'empty' => ['', 'this is not a WAV file'];
        yield 'a picture' => ["\x89PNG\r\n\x1a\n".str_repeat('x', 5000), 'odd.wav'];
        yield 'a header without sound' => [$wav($fmt(2, 44100)), 'ends before its sound begins'];
        yield 'cut in the header' => [substr($wav($fmt(2, 44100)), 0, 30), 'odd.wav'];
        yield 'no channels' => [$wav($fmt(0, 44100).'data'.pack('V', 4).'abcd'), '0 channels'];
        yield 'an absurd rate' => [$wav($fmt(1, 4_000_000).'data'.pack('V', 4).'abcd'), '4000000 Hz'];
        yield 'a kind of its own' => [$wav($fmt(1, 44100, 11).'data'.pack('V', 4).'abcd'), '11 bit'];
    }

    #[DataProvider('broken')]
    public function testWhatIsNoSoundIsRefusedByName(string $bytes, string $words): void
    {
        $path = Sounds::folder().'/odd.wav';
        file_put_contents($path, $bytes);
        $output = new BufferedOutput();
        self::assertSame(1, $this->run_analyse($path, true, $output));
        $said = $output->fetch();
        self::assertStringContainsString($words, $said);
        self::assertStringContainsString('odd.wav', $said);
    }

    /** @return iterable<string, array{string}> */
    public static function odd(): iterable
    {
        $wav = static fn (int $channels, int $rate, string $data, ?int $length = null): string => 'RIFF'.pack('V', 36 + \strlen($data)).'WAVEfmt '.pack('VvvVVvv', 16, 1, $channels, $rate, $rate * $channels * 2, $channels * 2, 16).'data'.pack('V', $length ?? \strlen($data)).$data;
        $noise = static fn (int $values): string => pack('v*', ...array_map(static fn (int $i): int => ($i * 7919) % 20000, range(1, $values)));
        yield 'one frame' => [$wav(1, 44100, "\x00\x40")];
        yield 'silence' => [$wav(2, 44100, str_repeat("\0", 400000))];
        yield 'a promise of 4 GB' => [$wav(2, 44100, $noise(20000), 0xFFFFFFF0)];
        yield '384 kHz' => [$wav(1, 384000, $noise(60000))];
        yield '16 channels' => [$wav(16, 48000, $noise(32000))];
    }

    #[DataProvider('odd')]
    public function testOddFilesAreAnalysedAllTheSame(string $bytes): void
    {
        $path = Sounds::folder().'/odd.wav';
        file_put_contents($path, $bytes);
        [$status, $facts] = $this->analyse($path);
        self::assertSame(0, $status);
        self::assertSame('one-shot', $facts['kind']);
        // The same file comes into the library and is shown.
        $state = self::upload('odd.wav', $bytes);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        $hash = self::text($state['sample']['hash']);
        foreach (['outline/0/0', 'frames?count=10', 'sound', 'hits', 'sounding', 'snap?at=3', 'outline/0/0?edits='.rawurlencode('[{"kind":"reverse"},{"kind":"stretch","percent":150},{"kind":"pitch","cents":200}]')] as $what) {
            self::assertSame(200, self::ask('GET', "/samples/$hash/$what")->getStatusCode(), $what);
        }
    }

    public function testAPianoLoopHasAKey(): void
    {
        $piano = KettleSteam::sounds(44100)['Old piano loop']();
        [, $facts] = $this->analyse($this->file($piano));
        self::assertIsArray($facts['key']);
        self::assertSame('D minor', $facts['key']['name']);
    }

    /** @return array{int, array<string, mixed>} */
    private function analyse(string $path): array
    {
        $output = new BufferedOutput();
        $status = $this->run_analyse($path, true, $output);
        $facts = json_decode($output->fetch(), true);
        $named = [];
        foreach (\is_array($facts) ? $facts : [] as $name => $value) {
            $named[(string) $name] = $value;
        }

        return [$status, $named];
    }

    private function run_analyse(string $path, bool $json, BufferedOutput $output): int
    {
        $application = new Application(self::$kernel);
        $application->setAutoExit(false);

        return $application->run(new ArrayInput(['command' => 'pestle:analyse', 'file' => $path, '--json' => $json]), $output);
    }

    private function file(StereoBlock $block): string
    {
        $path = Sounds::folder().'/sound.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write($block);
        $writer->close();

        return $path;
    }
}
