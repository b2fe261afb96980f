<?php

namespace Pestle\Tests\Browser;

use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** Processes die without warning in the middle of their work: nothing that was confirmed is lost, nothing is left half-done. */
final class KilledProcessesTest extends TestCase
{
    private Pestle $pestle;

    protected function setUp(): void
    {
        $this->pestle = new Pestle(true);
    }

    protected function tearDown(): void
    {
        $this->pestle->stop();
    }

    /** The second on a data folder says where the first is, and harms nothing; what is too large is refused before it is read. */
    public function testOneDataFolderHasOnePestle(): void
    {
        $second = proc_open([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/supervise', '8777'], [2 => ['pipe', 'w']], $pipes, null, ['PESTLE_DATA' => $this->pestle->data, 'PATH' => (string) getenv('PATH')]) ?: self::fail('No process.');
        $said = (string) stream_get_contents($pipes[2]);
        self::assertSame(3, proc_close($second));
        self::assertSame('Pestle runs on this data folder already: '.$this->pestle->address.'/', trim($said));
        self::assertSame(200, $this->pestle->ask('POST', '/beats/1/loop', ['pattern' => 'p3'])[0]);
        $address = substr($this->pestle->address, \strlen('http://'));
        $line = stream_socket_client('tcp://'.$address) ?: self::fail('No line.');
        fwrite($line, "POST /uploads HTTP/1.1\r\nHost: $address\r\nContent-Length: 600000000\r\n\r\n");
        stream_set_timeout($line, 5);
        $answer = (string) fread($line, 4096);
        self::assertStringContainsString('413', $answer);
        self::assertStringContainsString('files are sent in parts of 4 MB', $answer);
        self::assertSame('700', decoct((int) fileperms($this->pestle->data.'/cache') & 0o777));
        self::assertSame('600', decoct((int) fileperms($this->pestle->data.'/secret') & 0o777));
    }

    public function testNothingConfirmedIsLost(): void
    {
        $this->duringEdits();
        $this->duringAnUpload();
        $this->duringADelivery();
    }

    /** The server is killed while changes stream in; every change that was answered is there. */
    private function duringEdits(): void
    {
        $confirmed = 0;
        $head = 1;
        for ($i = 0; $i < 40; ++$i) {
            if (12 === $i) {
                self::assertGreaterThan(0, $this->pestle->kill('php-fpm'));
            }
            if (25 === $i) {
                self::assertGreaterThan(0, $this->pestle->kill('bin/engine'));
            }
            $change = ['type' => 'edit-hits', 'pattern' => 'p3', 'hits' => [[$i * 240, 'a0', 100]], 'changeId' => 'killed-edit-'.$i];
            [$status, $answer] = $this->answered('POST', '/beats/1/changes', $change, ['X-Pestle-Head' => (string) $head]);
            if (200 === $status && !isset($answer['head'])) {
                // An answer that was cut off as the server died confirms nothing: asked again, the change is made once.
                [$status, $answer] = $this->answered('POST', '/beats/1/changes', $change, ['X-Pestle-Head' => (string) $head]);
            }
            self::assertSame(200, $status, json_encode($answer) ?: '');
            self::assertIsInt($answer['head']);
            $head = $answer['head'];
            ++$confirmed;
        }
        self::assertSame($confirmed + 1, $head, 'each change was made once');
        [$status] = $this->pestle->ask('POST', '/beats/1/loop', ['pattern' => 'p3']);
        self::assertSame(200, $status, 'sound comes with or without the engine');
        $check = (new \PDO('sqlite:'.$this->pestle->data.'/pestle.sqlite'))->query('PRAGMA integrity_check');
        self::assertNotFalse($check);
        self::assertSame('ok', $check->fetchColumn());
    }

    /** Server and worker are killed while a file comes in; sent again from where it was, it arrives whole. */
    private function duringAnUpload(): void
    {
        $path = Sounds::folder().'/long.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write(Sounds::hit(5, 44100 * 40));
        $writer->close();
        $bytes = (string) file_get_contents($path);
        [, $begun] = $this->pestle->ask('POST', '/uploads', ['name' => 'long.wav', 'size' => \strlen($bytes)]);
        self::assertIsString($begun['id']);
        $url = '/uploads/'.$begun['id'];
        for ($at = 0; $at < \strlen($bytes); $at += 4_194_304) {
            if (0 !== $at) {
                $this->pestle->kill('php-fpm');
                $this->pestle->waitForServer();
            }
            [$status] = $this->answered('PUT', $url.'?at='.$at, substr($bytes, $at, 4_194_304));
            self::assertSame(200, $status);
        }
        usleep(150_000);
        $this->pestle->kill('messenger:consume');
        $state = $this->until($url);
        self::assertSame('done', $state['state']);
        self::assertIsArray($state['sample']);
        self::assertSame(hash('sha256', $bytes), $state['sample']['hash']);
        self::assertSame([], [...glob($this->pestle->data.'/samples/*/*.part') ?: [], ...glob($this->pestle->data.'/incoming/*') ?: []]);
    }

    /** The worker is killed in the middle of a delivery; another begins it again and ends it. */
    private function duringADelivery(): void
    {
        [$status, $delivery] = $this->pestle->ask('POST', '/beats/1/deliveries', ['what' => 'p1', 'loop' => '0', 'format' => '16', 'stems' => 'channel']);
        self::assertSame(200, $status);
        self::assertIsInt($delivery['id']);
        $url = '/deliveries/'.$delivery['id'];
        $killed = false;
        $state = $this->until($url, function (array $state) use (&$killed, $delivery): void {
            // It may have ended between the answer and this look.
            $there = is_dir($this->pestle->data.'/deliveries/'.$delivery['id']);
            self::assertTrue(!$there || 'done' === ($this->pestle->ask('GET', '/deliveries/'.$delivery['id'])[1]['state'] ?? ''));
            if (!$killed && \is_float($state['progress']) && $state['progress'] > 0.1) {
                $killed = $this->pestle->kill('messenger:consume') > 0;
            }
        });
        self::assertTrue($killed, 'it was killed while it worked');
        self::assertSame('done', $state['state']);
        self::assertIsString($state['message']);
        self::assertStringContainsString('add up to the mix', $state['message']);
        $files = glob($this->pestle->data.'/deliveries/'.$delivery['id'].'/*') ?: [];
        self::assertCount(1, preg_grep('/\.zip$/', $files) ?: []);
        self::assertSame([], preg_grep('/\.part$/', [...$files, ...glob($this->pestle->data.'/deliveries/*') ?: []]));
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($files[0]));
        self::assertGreaterThan(1, $zip->numFiles);
        $zip->extractTo($taken = Sounds::folder());
        foreach (glob($taken.'/*.wav') ?: [] as $file) {
            self::assertSame([], SoundFile::open($file)->repairs);
        }
    }

    /**
     * Asks again while nobody is there to answer, as the pages offer to.
     *
     * @param array<string, mixed>|string $body
     * @param array<string, string>       $headers
     *
     * @return array{int, array<string, mixed>}
     */
    private function answered(string $method, string $path, array|string $body, array $headers = []): array
    {
        for ($i = 0; $i < 100; ++$i) {
            [$status, $answer] = $this->pestle->ask($method, $path, $body, $headers);
            if (0 !== $status && $status < 502) {
                return [$status, $answer];
            }
            usleep(100_000);
        }
        self::fail('Nobody answered.');
    }

    /**
     * @param callable(array<string, mixed>): void|null $meanwhile
     *
     * @return array<string, mixed>
     */
    private function until(string $url, ?callable $meanwhile = null): array
    {
        for ($i = 0; $i < 600; ++$i) {
            [, $state] = $this->pestle->ask('GET', $url);
            if (\in_array($state['state'] ?? '', ['done', 'failed'], true)) {
                return $state;
            }
            if (null !== $meanwhile && isset($state['state'])) {
                $meanwhile($state);
            }
            usleep(100_000);
        }
        self::fail('It did not end.');
    }
}
