<?php

namespace Pestle\Core\Render;

/** Asks the resident engine, or does its work here when none is running. */
final class EngineClient
{
    private const TIMEOUT_SECONDS = 60.0;

    /** @param \Closure(): Engine $local */
    public function __construct(private readonly string $socket, private readonly \Closure $local, private readonly float $timeoutSeconds = self::TIMEOUT_SECONDS)
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
        stream_set_timeout($stream, (int) ceil($this->timeoutSeconds));

        return Wire::write($stream, $request) ? new Asked($stream, microtime(true) + $this->timeoutSeconds) : null;
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return array{array<string, mixed>, string}
     *
     * @throws TakesTooLong an engine that is busy is not helped by doing its work beside it
     */
    public function ask(array $request): array
    {
        try {
            $asked = $this->put($request);
            do {
                $answer = $asked?->within($this->timeoutSeconds);
            } while (null !== $asked && null === $answer);
        } catch (TakesTooLong $e) {
            throw $e;
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
