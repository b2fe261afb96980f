<?php

namespace Pestle\App\Machines;

/**
 * A stream with one group of consumers: each entry is one consumer's until it is done, or until that one gave no sign of
 * life for a while. Source: Redis, "Streams", consumer groups.
 */
final class RedisStream
{
    private const GROUP = 'workers';
    private const RECLAIM_SECONDS = 1.0;
    private string $cursor = '0-0';
    private float $reclaimed = 0.0;

    public function __construct(private readonly Redis $redis, public readonly string $key, private readonly string $consumer, private readonly float $idleSeconds)
    {
    }

    /** @throws QueueAway */
    public function add(string $body, float $patience): void
    {
        $this->redis->ask($patience, 'XADD', $this->key, '*', 'body', $body);
    }

    /**
     * The next entry, which is this consumer's from now on: one that somebody else lost first.
     *
     * @return array{string, string, int}|null id, body and how often it was begun
     *
     * @throws QueueAway
     */
    public function next(): ?array
    {
        $entry = $this->lost() ?? $this->fresh();
        if (null === $entry) {
            return null;
        }
        $pending = $this->asked('XPENDING', $this->key, self::GROUP, $entry[0], $entry[0], 1);
        $row = (array) ($pending[0] ?? []);

        return [...$entry, is_numeric($row[3] ?? null) ? (int) $row[3] : 1];
    }

    /** Says that this consumer is alive and at it. */
    public function hold(string $id): void
    {
        $this->asked('XCLAIM', $this->key, self::GROUP, $this->consumer, 0, $id, 'JUSTID');
    }

    /** @throws QueueAway */
    public function done(string $id, float $patience): void
    {
        $this->redis->script($patience, "redis.call('XACK', KEYS[1], ARGV[1], ARGV[2]) return redis.call('XDEL', KEYS[1], ARGV[2])", [$this->key], [self::GROUP, $id]);
    }

    /** @return array{string, string}|null */
    private function fresh(): ?array
    {
        $answer = $this->asked('XREADGROUP', 'GROUP', self::GROUP, $this->consumer, 'COUNT', 1, 'STREAMS', $this->key, '>');
        $stream = (array) ($answer[0] ?? []);

        return self::entry(((array) ($stream[1] ?? []))[0] ?? null);
    }

    /** @return array{string, string}|null */
    private function lost(): ?array
    {
        if (microtime(true) - $this->reclaimed < self::RECLAIM_SECONDS && '0-0' === $this->cursor) {
            return null;
        }
        $this->reclaimed = microtime(true);
        $answer = $this->asked('XAUTOCLAIM', $this->key, self::GROUP, $this->consumer, (int) (1000 * $this->idleSeconds), $this->cursor, 'COUNT', 1);
        $this->cursor = \is_string($answer[0] ?? null) ? $answer[0] : '0-0';

        return self::entry(((array) ($answer[1] ?? []))[0] ?? null);
    }

    /** @return array{string, string}|null */
    private static function entry(mixed $entry): ?array
    {
        [$id, $fields] = [...(array) $entry, null, null];
        $body = ((array) $fields)[1] ?? null;

        return \is_string($id) && \is_string($body) ? [$id, $body] : null;
    }

    /**
     * Asks what needs the group; where there is none, it is made.
     *
     * @return list<mixed>
     */
    private function asked(string|int ...$command): array
    {
        try {
            $answer = $this->redis->ask(0.0, ...$command);
        } catch (QueueAway $e) {
            throw $e;
        } catch (\RuntimeException $e) {
            if (!str_contains($e->getMessage(), 'NOGROUP')) {
                throw $e;
            }
            try {
                $this->redis->ask(0.0, 'XGROUP', 'CREATE', $this->key, self::GROUP, '0', 'MKSTREAM');
            } catch (QueueAway $e) {
                throw $e;
            } catch (\RuntimeException) {
                // Somebody else was faster.
            }
            $answer = $this->redis->ask(0.0, ...$command);
        }

        return \is_array($answer) ? array_values($answer) : [];
    }
}
