<?php

namespace Pestle\Core\Render;

/**
 * The engine behind a Unix socket. A message is the length of a JSON text, the length of the
 * sound behind it (both 32-bit, little-endian), the text and the sound.
 */
final class EngineServer
{
    /** @var array<int, resource> */
    private array $clients = [];

    /** @param callable(string): void $log */
    public function __construct(private readonly string $socket, private readonly Engine $engine, private $log)
    {
    }

    /** Serves until $running says no. @param callable(): bool $running */
    public function run(callable $running): void
    {
        @unlink($this->socket);
        $server = @stream_socket_server('unix://'.$this->socket, $code, $message);
        if (false === $server) {
            throw new \RuntimeException(\sprintf('The engine cannot listen on %s: %s', $this->socket, $message));
        }
        chmod($this->socket, 0o600);
        while ($running()) {
            $read = [$server, ...$this->clients];
            $write = $except = null;
            // While segments wait to be saved, look up often; else sleep until asked.
            if (@stream_select($read, $write, $except, $this->engine->hasChores() ? 0 : 1, $this->engine->hasChores() ? 20000 : 0) < 1) {
                if ($this->engine->hasChores()) {
                    $this->engine->chore();
                }
                continue;
            }
            foreach ($read as $stream) {
                if ($stream === $server) {
                    $client = @stream_socket_accept($server, 0);
                    if (false !== $client) {
                        $this->clients[(int) $client] = $client;
                    }
                } else {
                    $this->serve($stream);
                }
            }
        }
        @unlink($this->socket);
    }

    /** @param resource $client */
    private function serve($client): void
    {
        stream_set_timeout($client, 5);
        $message = Wire::read($client);
        if (null === $message) {
            fclose($client);
            unset($this->clients[(int) $client]);

            return;
        }
        $started = hrtime(true);
        [$answer, $sound] = $this->engine->answer($message[0]);
        $answer['milliseconds'] = round((hrtime(true) - $started) / 1e6, 1);
        if (isset($answer['error'])) {
            ($this->log)(\sprintf('%s: %s', json_encode($message[0]['op'] ?? null), json_encode($answer['error'])));
        }
        Wire::write($client, $answer, $sound);
    }
}
