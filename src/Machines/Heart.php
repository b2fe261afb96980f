<?php

namespace Pestle\App\Machines;

/**
 * Gives signs of life while something is worked on that has no time for it, by the alarm of the process and over a
 * connection of its own.
 */
final class Heart
{
    private ?RedisStream $stream = null;
    private string $entry = '';

    /** @param int $seconds between two signs */
    public function __construct(private readonly Board $board, private readonly string $worker, private readonly int $seconds)
    {
    }

    /**
     * @template T
     *
     * @param RedisStream   $stream over the connection of the board
     * @param \Closure(): T $work
     *
     * @return T
     */
    public function during(RedisStream $stream, string $entry, \Closure $work): mixed
    {
        $this->stream = $stream;
        $this->entry = $entry;
        pcntl_async_signals(true);
        pcntl_signal(\SIGALRM, $this->beat(...));
        pcntl_alarm($this->seconds);
        try {
            return $work();
        } finally {
            pcntl_alarm(0);
            pcntl_signal(\SIGALRM, \SIG_DFL);
        }
    }

    private function beat(): void
    {
        try {
            $this->stream?->hold($this->entry);
            $this->board->isThere($this->worker);
        } catch (\RuntimeException) {
            // Nobody hears it just now; the next one may be heard.
        }
        pcntl_alarm($this->seconds);
    }
}
