<?php

namespace Pestle\Tests\Browser;

/** A device that is a program beside a Pestle: started, typed at, listened to, pulled out. */
final class Beside
{
    /** @var resource */
    private $process;
    /** @var resource */
    private $typed;
    /** @var resource */
    private $said;
    private string $heard = '';

    public function __construct(Pestle $pestle, string $kind, string ...$options)
    {
        $process = proc_open([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/stand-in', $kind, ...array_values($options)], [['pipe', 'r'], ['pipe', 'w']], $pipes, null, ['PESTLE_DATA' => $pestle->data, 'PATH' => (string) getenv('PATH')]);
        [$this->process, $this->typed, $this->said] = [$process ?: throw new \RuntimeException(), $pipes[0], $pipes[1]];
        stream_set_blocking($this->said, false);
    }

    public function __destruct()
    {
        $this->pullOut();
    }

    public function type(string $command): void
    {
        fwrite($this->typed, $command."\n");
    }

    /**
     * Waits until it says something that matches, and gives what does; what was said before that is forgotten.
     *
     * @return array<string>
     */
    public function says(string $pattern, int $seconds = 150): array
    {
        for ($until = microtime(true) + $seconds; microtime(true) < $until; usleep(20_000)) {
            $this->heard .= (string) stream_get_contents($this->said);
            if (1 === preg_match($pattern, $this->heard, $match, \PREG_OFFSET_CAPTURE)) {
                $this->heard = substr($this->heard, (int) $match[0][1] + \strlen($match[0][0]));

                return array_map(static fn (array $part): string => (string) $part[0], $match);
            }
        }
        throw new \RuntimeException(\sprintf('It never said %s, but: %s', $pattern, $this->heard));
    }

    /** Without a farewell, as a cable is. */
    public function pullOut(): void
    {
        proc_terminate($this->process, \SIGKILL);
        while (proc_get_status($this->process)['running']) {
            usleep(10_000);
        }
    }
}
