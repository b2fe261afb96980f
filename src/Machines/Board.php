<?php

namespace Pestle\App\Machines;

/**
 * What all machines see: errands in a stream a lane, which of them are still wanted, who is at them and how far, and who is
 * there at all. An errand is wanted until its home has what came of it, or does not want it any more.
 */
final readonly class Board
{
    /** An errand goes out once, however often it is sent. */
    private const SEND = "if redis.call('HSETNX', KEYS[1], ARGV[1], '') == 0 then return 0 end redis.call('XADD', KEYS[2], '*', 'body', ARGV[2]) return 1";
    private const TELL = "if redis.call('HEXISTS', KEYS[1], ARGV[1]) == 0 then return 0 end redis.call('HSET', KEYS[1], ARGV[1], ARGV[2]) return 1";
    /** By the one clock that all share. */
    private const THERE = "return redis.call('HSET', KEYS[1], ARGV[1], redis.call('TIME')[1])";
    /** Seconds after which a worker is forgotten. */
    private const FORGOTTEN = 600;

    public function __construct(private Redis $redis)
    {
    }

    public static function lane(string $lane): string
    {
        return 'pestle:errands:'.$lane;
    }

    public static function reports(string $home): string
    {
        return 'pestle:reports:'.$home;
    }

    /**
     * @return bool whether it was not out already
     *
     * @throws QueueAway
     */
    public function send(Errand $errand): bool
    {
        return 1 === $this->redis->script(0.0, self::SEND, [self::wanted($errand->home), self::lane($errand->lane)], [$errand->id, $errand->toJson()]);
    }

    /**
     * Says who is at an errand and how far.
     *
     * @return bool whether it is still wanted
     *
     * @throws QueueAway
     */
    public function tell(Errand $errand, string $worker, float $progress): bool
    {
        return 1 === $this->redis->script(0.0, self::TELL, [self::wanted($errand->home)], [$errand->id, json_encode([$worker, round($progress, 4)], \JSON_THROW_ON_ERROR)]);
    }

    /**
     * @return array<int, array{string|null, float}> worker and progress of all errands of a home that are out, by number of the job
     *
     * @throws QueueAway
     */
    public function out(string $home): array
    {
        $out = [];
        $answer = $this->redis->ask(0.0, 'HGETALL', self::wanted($home));
        foreach (array_chunk(\is_array($answer) ? $answer : [], 2) as [$id, $said]) {
            $said = json_decode(\is_string($said) ? $said : '', true);
            $out[is_numeric($id) ? (int) $id : 0] = \is_array($said) && \is_string($said[0] ?? null) && is_numeric($said[1] ?? null) ? [$said[0], (float) $said[1]] : [null, 0.0];
        }

        return $out;
    }

    /** @throws QueueAway */
    public function forget(string $home, int $id): void
    {
        $this->redis->ask(0.0, 'HDEL', self::wanted($home), $id);
    }

    /** @throws QueueAway */
    public function isThere(string $worker): void
    {
        $this->redis->script(0.0, self::THERE, ['pestle:workers'], [$worker]);
    }

    /**
     * @return array<string, int> seconds since each worker was seen, by name
     *
     * @throws QueueAway
     */
    public function workers(): array
    {
        $workers = [];
        $answer = $this->redis->ask(0.0, 'HGETALL', 'pestle:workers');
        $now = ((array) $this->redis->ask(0.0, 'TIME'))[0] ?? 0;
        $now = is_numeric($now) ? (int) $now : 0;
        foreach (array_chunk(\is_array($answer) ? $answer : [], 2) as [$name, $seen]) {
            $ago = $now - (is_numeric($seen) ? (int) $seen : 0);
            if (\is_string($name) && $ago < self::FORGOTTEN) {
                $workers[$name] = max(0, $ago);
            } elseif (\is_string($name)) {
                $this->redis->ask(0.0, 'HDEL', 'pestle:workers', $name);
            }
        }
        ksort($workers);

        return $workers;
    }

    private static function wanted(string $home): string
    {
        return 'pestle:out:'.$home;
    }
}
