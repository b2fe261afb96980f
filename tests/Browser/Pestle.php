<?php

namespace Pestle\Tests\Browser;

use Pestle\Tests\Core\Sounds;

/** A whole Pestle as a user runs it: server, engine and worker under their supervisor, with data of its own. */
final class Pestle
{
    public readonly string $data;
    public string $address;
    /** @var resource */
    private $supervisor;
    /** Where the data to start from are made. */
    private static ?string $shared = null;

    public function __construct(bool $demo)
    {
        $root = \dirname(__DIR__, 2);
        $this->data = Sounds::folder();
        $port = Chrome::freePort();
        $this->address = 'http://127.0.0.1:'.$port;
        $environment = ['PESTLE_DATA' => $this->data, 'PATH' => (string) getenv('PATH')];
        self::fill($this->data, $demo);
        $this->supervisor = proc_open([\PHP_BINARY, $root.'/bin/supervise', (string) $port], [1 => ['file', '/dev/null', 'w'], 2 => ['file', '/dev/null', 'w']], $pipes, null, $environment) ?: throw new \RuntimeException();
        $this->waitForServer();
    }

    /** Migrations and the demo beat take seconds: they are made once for all processes that test, and copied. */
    private static function fill(string $folder, bool $demo): void
    {
        self::$shared ??= getenv('PESTLE_TEST_DATA') ?: Sounds::folder();
        $made = self::$shared.($demo ? '/demo' : '/empty');
        $lock = fopen($made.'.lock', 'c') ?: throw new \RuntimeException('The data of the tests cannot be written.');
        flock($lock, \LOCK_EX);
        if (!is_dir($made)) {
            mkdir($made.'.new', 0o700);
            $environment = ['PESTLE_DATA' => $made.'.new', 'PATH' => (string) getenv('PATH')];
            foreach ([['doctrine:migrations:migrate', '-n', '-q'], ...($demo ? [['pestle:demo', 'Kettle Steam']] : [])] as $arguments) {
                $process = proc_open([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/console', ...$arguments], [1 => ['file', '/dev/null', 'w'], 2 => ['file', '/dev/null', 'w']], $pipes, null, $environment);
                if (false === $process || 0 !== proc_close($process)) {
                    throw new \RuntimeException('The data of the test could not be made: '.implode(' ', $arguments));
                }
            }
            rename($made.'.new', $made);
        }
        fclose($lock);
        exec('cp -a '.escapeshellarg($made.'/.').' '.escapeshellarg($folder), $_, $failed);
        if (0 !== $failed) {
            throw new \RuntimeException('The data of the test could not be copied.');
        }
    }

    public function stop(): void
    {
        proc_terminate($this->supervisor);
        proc_close($this->supervisor);
    }

    public function waitForServer(): void
    {
        for ($i = 0; $i < 600; ++$i) {
            // Where it is: another may have been quicker to take the port.
            $this->address = rtrim((string) @file_get_contents($this->data.'/address'), "/\n") ?: $this->address;
            if (str_contains((string) @file_get_contents($this->address.'/'), 'Pestle') && file_exists($this->data.'/engine.sock')) {
                return;
            }
            usleep(100_000);
        }
        throw new \RuntimeException('Pestle did not start: '.file_get_contents($this->data.'/pestle.log'));
    }

    /** Kills the processes whose command line holds $part, without warning. */
    public function kill(string $part): int
    {
        $killed = 0;
        foreach (glob('/proc/[0-9]*') ?: [] as $folder) {
            $line = (string) @file_get_contents($folder.'/cmdline');
            if (str_contains($line, $part) && str_contains($line.@file_get_contents($folder.'/environ'), $this->data)) {
                $killed += (int) posix_kill((int) basename($folder), \SIGKILL);
            }
        }

        return $killed;
    }

    /**
     * @param array<string, mixed>|string|null $body
     * @param array<string, string>            $headers
     *
     * @return array{int, array<string, mixed>} status and answer; status 0 when the line broke
     */
    public function ask(string $method, string $path, array|string|null $body = null, array $headers = []): array
    {
        $secret = (string) @file_get_contents($this->data.'/secret');
        $lines = ['X-Pestle-Token: '.hash_hmac('sha256', 'changes', $secret), 'Content-Type: '.(\is_array($body) ? 'application/json' : 'application/octet-stream')];
        foreach ($headers as $name => $value) {
            $lines[] = $name.': '.$value;
        }
        $curl = curl_init($this->address.$path);
        curl_setopt_array($curl, [\CURLOPT_CUSTOMREQUEST => '' === $method ? 'GET' : $method, \CURLOPT_HTTPHEADER => $lines, \CURLOPT_RETURNTRANSFER => true, \CURLOPT_TIMEOUT => 30]);
        if (null !== $body) {
            curl_setopt($curl, \CURLOPT_POSTFIELDS, \is_array($body) ? json_encode($body, \JSON_THROW_ON_ERROR) : $body);
        }
        $answer = curl_exec($curl);
        $status = curl_getinfo($curl, \CURLINFO_RESPONSE_CODE);
        $json = \is_string($answer) ? json_decode($answer, true) : null;
        $named = [];
        foreach (\is_array($json) ? $json : [] as $key => $value) {
            $named[(string) $key] = $value;
        }

        return [$status, $named];
    }
}
