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
     * @param array<string, mixed> $request
     *
     * @return array{array<string, mixed>, string}
     */
    public function ask(array $request): array
    {
        $stream = @stream_socket_client('unix://'.$this->socket, $code, $message, 1.0);
        if (false !== $stream) {
            stream_set_timeout($stream, self::TIMEOUT_SECONDS);
            $answer = Wire::write($stream, $request) ? Wire::read($stream) : null;
            fclose($stream);
            if (null !== $answer) {
                return $answer;
            }
        }

        $engine = ($this->local)();
        $answer = $engine->answer($request);
        while ($engine->hasChores()) {
            $engine->chore();
        }

        return $answer;
    }
}
