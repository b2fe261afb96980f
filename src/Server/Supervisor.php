<?php

namespace Pestle\App\Server;

/** Keeps processes running: each leads a group of its own, and one that ends is started again. TERM, INT or HUP stops them all. */
final class Supervisor
{
    private const PAUSE_MICROSECONDS = 100_000;
    private const RESTART_MICROSECONDS = 200_000;
    /** So many pauses are left to them to end by themselves. */
    private const PATIENCE = 50;

    /** @var array<string, int> numbers of the processes, by name */
    private array $running = [];
    private bool $stopping = false;

    /**
     * @param array<string, non-empty-list<string>> $commands    by name
     * @param array<string, int>                    $beside      by how much those go behind the others that have time
     * @param array<string, string>                 $environment
     * @param string                                $log         takes what they print
     */
    public function __construct(private readonly array $commands, private readonly array $beside, private readonly array $environment, private readonly string $log, private readonly Processes $processes)
    {
    }

    /** @return non-empty-list<string> command of a worker that takes what is first in these lanes */
    public static function worker(string $root, string ...$lanes): array
    {
        return [\PHP_BINARY, $root.'/bin/console', 'messenger:consume', ...array_values($lanes), '--sleep=0.1', '--quiet', '--no-interaction', '--memory-limit=300M'];
    }

    public function start(): void
    {
        pcntl_async_signals(true);
        foreach ([\SIGTERM, \SIGINT, \SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopping = true;
            });
        }
        foreach (array_keys($this->commands) as $name) {
            $this->running[$name] = $this->begin($name);
        }
        $this->processes->remember(array_values($this->running));
    }

    /** Until it is stopped. */
    public function keep(): void
    {
        while (!$this->stopping) {
            $ended = pcntl_waitpid(-1, $status, \WNOHANG);
            $status = \is_int($status) ? $status : 0;
            $name = $ended > 0 ? array_search($ended, $this->running, true) : false;
            if (\is_string($name)) {
                posix_kill(-$ended, \SIGKILL);
                if (!pcntl_wifexited($status) || 0 !== pcntl_wexitstatus($status)) {
                    $this->note(\sprintf('%s ended unexpectedly and is started again', $name));
                }
                usleep(self::RESTART_MICROSECONDS);
                $this->running[$name] = $this->begin($name);
                $this->processes->remember(array_values($this->running));
            }
            usleep(self::PAUSE_MICROSECONDS);
        }
        $this->stop();
    }

    private function stop(): void
    {
        foreach ($this->running as $pid) {
            posix_kill(-$pid, \SIGTERM);
        }
        for ($i = 0; $i < self::PATIENCE && [] !== $this->running; ++$i) {
            foreach ($this->running as $name => $pid) {
                if (0 !== pcntl_waitpid($pid, $status, \WNOHANG)) {
                    unset($this->running[$name]);
                }
            }
            usleep(self::PAUSE_MICROSECONDS);
        }
        foreach ($this->running as $pid) {
            posix_kill(-$pid, \SIGKILL);
        }
        $this->processes->forget();
    }

    private function begin(string $name): int
    {
        $pid = pcntl_fork();
        if (0 !== $pid) {
            return $pid;
        }
        posix_setsid();
        proc_nice($this->beside[$name] ?? 0);
        // The lock is the supervisor's alone; the log takes what they print.
        foreach (get_resources('stream') as $stream) {
            @fclose($stream);
        }
        $in = fopen('/dev/null', 'r');
        $out = fopen($this->log, 'a');
        $error = fopen($this->log, 'a');
        pcntl_exec($this->commands[$name][0], \array_slice($this->commands[$name], 1), $this->environment);
        exit(127);
    }

    private function note(string $line): void
    {
        file_put_contents($this->log, json_encode(['time' => date(\DATE_ATOM), 'channel' => 'supervisor', 'message' => $line], \JSON_THROW_ON_ERROR)."\n", \FILE_APPEND);
    }
}
