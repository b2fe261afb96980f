<?php

namespace Pestle\App\Machines;

/** This process as one of many workers: its name, and its own ways to the queue. */
final class Worker
{
    private const BEATS_WHILE_IDLE = 4;
    /** @var array<string, RedisStream> */
    private array $streams = [];
    private ?Redis $redis = null;
    private ?Board $board = null;

    public function __construct(private readonly MachineSettings $settings)
    {
    }

    /** What it is known by: that of its machine, which others of it share, and its number there. */
    public function name(): string
    {
        return $this->settings->name().':'.getmypid();
    }

    /** What the machine of a worker is called. */
    public static function machine(string $worker): string
    {
        return (string) preg_replace('/:\d+$/', '', $worker);
    }

    public function board(): Board
    {
        return $this->board ??= new Board($this->redis());
    }

    public function lane(string $lane): RedisStream
    {
        return $this->streams[$lane] ??= $this->stream($this->redis(), Board::lane($lane));
    }

    public function reports(string $home): RedisStream
    {
        return $this->stream($this->redis(), Board::reports($home));
    }

    /**
     * Does what takes long while others see that this worker is alive.
     *
     * @template T
     *
     * @param \Closure(): T $work
     *
     * @return T
     */
    public function at(Errand $errand, \Closure $work): mixed
    {
        $own = $this->settings->redis();
        $seconds = max(1, (int) ($this->settings->idle() / self::BEATS_WHILE_IDLE));

        return (new Heart(new Board($own), $this->name(), $seconds))->during($this->stream($own, Board::lane($errand->lane)), $errand->entry, $work);
    }

    private function stream(Redis $redis, string $key): RedisStream
    {
        return new RedisStream($redis, $key, $this->name(), $this->settings->idle());
    }

    private function redis(): Redis
    {
        return $this->redis ??= $this->settings->redis();
    }
}
