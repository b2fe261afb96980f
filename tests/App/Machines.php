<?php

namespace Pestle\Tests\App;

use Pestle\Tests\Core\Sounds;

/** What many machines share, for tests: a real Redis and a real SFTP server on loopback, and workers in folders of their own. */
final class Machines
{
    private const ROOT = __DIR__.'/../..';
    public readonly string $folder;
    public readonly string $queue;
    public readonly string $files;
    private readonly int $redisPort;
    /** @var array<string, resource> */
    private array $processes = [];

    public function __construct()
    {
        $this->folder = Sounds::folder();
        [$this->redisPort, $sshPort] = [self::port(), self::port()];
        $this->queue = "redis://127.0.0.1:$this->redisPort?idle=6";
        mkdir($this->folder.'/files');
        foreach (['host', 'key'] as $name) {
            exec('ssh-keygen -q -t ed25519 -N "" -f '.escapeshellarg($this->folder.'/'.$name));
        }
        file_put_contents($this->folder.'/sshd.conf', implode("\n", [
            "Port $sshPort", 'ListenAddress 127.0.0.1', "HostKey $this->folder/host", "PidFile $this->folder/sshd.pid", "AuthorizedKeysFile $this->folder/key.pub",
            'StrictModes no', 'UsePAM no', 'PasswordAuthentication no', 'PermitRootLogin yes', 'Subsystem sftp internal-sftp', '',
        ]));
        // Where it parts its rights; Debian makes it when the service starts.
        is_dir('/run/sshd') || @mkdir('/run/sshd');
        $print = explode(' ', (string) shell_exec('ssh-keygen -lf '.escapeshellarg($this->folder.'/host.pub')))[1] ?? '';
        $user = posix_getpwuid(posix_geteuid())['name'] ?? 'root';
        $this->files = "sftp://$user@127.0.0.1:$sshPort$this->folder/files?key=$this->folder/key&print=$print";
        $this->begin('sshd', ['/usr/sbin/sshd', '-D', '-f', $this->folder.'/sshd.conf', '-E', $this->folder.'/sshd.log']);
        $this->startRedis();
        self::waitFor($sshPort);
    }

    /** Without anything on the disk: what it knew is lost when it ends. */
    public function startRedis(): void
    {
        $this->begin('redis', ['redis-server', '--port', (string) $this->redisPort, '--bind', '127.0.0.1', '--save', '', '--appendonly', 'no', '--dir', $this->folder]);
        self::waitFor($this->redisPort);
    }

    /** @param array<string, string> $environment */
    public function startWorker(string $name, array $environment = []): void
    {
        mkdir($this->folder.'/'.$name);
        $this->begin($name, [\PHP_BINARY, self::ROOT.'/bin/work'], ['PESTLE_DATA' => $this->folder.'/'.$name, 'PESTLE_NAME' => $name, 'APP_ENV' => 'prod'] + $environment);
    }

    public function startKeeper(string $data): void
    {
        $this->begin('keeper', [\PHP_BINARY, self::ROOT.'/bin/console', 'pestle:keep'], ['PESTLE_DATA' => $data, 'APP_ENV' => 'prod']);
    }

    /** Without a word. */
    public function kill(string $name): void
    {
        proc_terminate($this->processes[$name], 9);
        while (proc_get_status($this->processes[$name])['running']) {
            usleep(10_000);
        }
        proc_close($this->processes[$name]);
        unset($this->processes[$name]);
    }

    /** @return int how many processes that work for a machine were killed; they are started again */
    public function killWorkersOf(string $name): int
    {
        $record = json_decode((string) file_get_contents($this->folder.'/'.$name.'/workers.json'), true);
        $killed = 0;
        foreach (\is_array($record) && \is_array($record['leaders']) ? $record['leaders'] : [] as $leader) {
            $pid = \is_array($leader) ? $leader[0] : null;
            $killed += \is_int($pid) && posix_kill($pid, 9) ? 1 : 0;
        }

        return $killed;
    }

    /** @return array<string, list<string>> what is said in the logs of each worker */
    public function logs(): array
    {
        $logs = [];
        foreach (glob($this->folder.'/*/worker.log') ?: [] as $path) {
            $logs[basename(\dirname($path))] = file($path, \FILE_IGNORE_NEW_LINES) ?: [];
        }

        return $logs;
    }

    public function stop(): void
    {
        foreach (array_reverse($this->processes) as $process) {
            proc_terminate($process, 15);
        }
        foreach ($this->processes as $process) {
            for ($i = 0; $i < 800 && proc_get_status($process)['running']; ++$i) {
                usleep(10_000);
            }
            proc_terminate($process, 9);
            proc_close($process);
        }
        $this->processes = [];
    }

    /**
     * @param non-empty-list<string> $command
     * @param array<string, string>  $environment
     */
    private function begin(string $name, array $command, array $environment = []): void
    {
        $quiet = ['file', $this->folder.'/'.$name.'.out', 'a'];
        $process = proc_open($command, [1 => $quiet, 2 => $quiet], $pipes, null, $environment + ['PESTLE_QUEUE' => $this->queue, 'PESTLE_FILES' => $this->files] + getenv());
        $this->processes[$name] = \is_resource($process) ? $process : throw new \RuntimeException("$name cannot be started.");
    }

    private static function port(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        $name = false === $socket ? '' : (string) stream_socket_get_name($socket, false);

        return (int) substr($name, (int) strrpos($name, ':') + 1);
    }

    private static function waitFor(int $port): void
    {
        for ($i = 0; $i < 1000; ++$i) {
            $socket = @fsockopen('127.0.0.1', $port);
            if (false !== $socket) {
                fclose($socket);

                return;
            }
            usleep(20_000);
        }
        throw new \RuntimeException("Nobody listens at port $port.");
    }
}
