<?php

namespace Pestle\Core\Render;

/** Asks the resident engine, or does its work here when none is running. */
final class EngineClient
{
    private const TIMEOUT_SECONDS = 60;

    /** @param \Closure(): Engine $local */
    public function __construct(private readonly string $socket, private readonly \Closure $local)
    {
    }

    /**
     * Puts a question to the resident engine and does not wait; null when there is none.
     *
     * @param array<string, mixed> $request
     */
    public function put(array $request): ?Asked
    {
        $stream = @stream_socket_client('unix://'.$this->socket, $code, $message, 1.0);
        if (false === $stream) {
            return null;
        }
        stream_set_timeout($stream, self::TIMEOUT_SECONDS);

        return Wire::write($stream, $request) ? new Asked($stream, microtime(true) + self::TIMEOUT_SECONDS) : null;
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return array{array<string, mixed>, string}
     */
    public function ask(array $request): array
    {
        try {
            $answer = $this->put($request)?->within(self::TIMEOUT_SECONDS);
        } catch (\RuntimeException) {
            $answer = null;
        }
        if (null !== $answer) {
            return $answer;
        }

        $engine = ($this->local)();
        $answer = $engine->answer($request);
        while ($engine->hasChores()) {
            $engine->chore();
        }

        return $answer;
    }
}
