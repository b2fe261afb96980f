<?php

namespace Pestle\Core\Render;

/** A question that was put to the engine. Who hangs up is not worked for any more. */
final class Asked
{
    /** @param resource $stream */
    public function __construct(private $stream, private readonly float $until)
    {
    }

    /**
     * Waits for the answer, so many seconds at the most.
     *
     * @return array{array<string, mixed>, string}|null null while it is not there
     *
     * @throws TakesTooLong
     * @throws \RuntimeException when the engine is gone
     */
    public function within(float $seconds): ?array
    {
        $read = [$this->stream];
        $write = $except = null;
        $ready = @stream_select($read, $write, $except, (int) $seconds, (int) (1e6 * fmod($seconds, 1.0)));
        if (1 === $ready) {
            return Wire::read($this->stream) ?? throw new \RuntimeException('The engine ended while it worked on this.');
        }

        return microtime(true) < $this->until ? null : throw new TakesTooLong();
    }
}
