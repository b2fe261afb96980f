<?php

namespace Pestle\Core\Render;

/**
 * The engine behind a Unix socket. A message is the length of a JSON text, the length of the
 * sound behind it (both 32-bit, little-endian), the text and the sound. Questions are worked on by turns, a segment each,
 * struck pads and what is about to be heard first, but for every fourth turn, then the newest; who hangs up is not worked for any more. Of too many,
 * one on which least was done is told that it was "dropped": so what is wanted now has room, and who asks again ends nobody's work.
 */
final class EngineServer
{
    /** Questions that are worked on at the same time; further ones wait, as each takes memory. */
    private const AT_ONCE = 4;
    /** Questions that are worked on or wait. */
    public const MOST = 6;
    private const TURN_NANOSECONDS = 3_000_000;
    /** One turn in so many is not for what is about to be heard: where that is asked for faster than it is worked out, the whole would never be there. */
    private const OTHERS_TURN = 4;

    /** @var array<int, resource> */
    private array $clients = [];
    /** @var array<int, array{string, bool, \Generator<int, null, mixed, array{array<string, mixed>, string}>, int|float}> by client what it asked for, whether it goes first, the work and when it was asked; the one whose turn is next first */
    private array $questions = [];
    /** Whether anything was worked on since memory was given back. */
    private bool $worked = false;
    /** @var array<int, int> turns that each has had, by client */
    private array $turns = [];
    /** Turns that went to what goes first while others waited. */
    private int $hurried = 0;

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
            $this->listen($server);
            if ([] !== $this->questions) {
                $this->workOn($this->turn());
            }
        }
        @unlink($this->socket);
    }

    /**
     * Takes in what was asked meanwhile.
     *
     * @param resource $server
     */
    private function listen($server): void
    {
        $read = [$server, ...array_values($this->clients)];
        $write = $except = null;
        $chores = $this->engine->hasChores();
        [$seconds, $microseconds] = match (true) {
            [] !== $this->questions => [0, 0],
            // While segments wait to be saved, look up often; else sleep until asked.
            $chores => [0, 20_000],
            default => [1, 0],
        };
        if (@stream_select($read, $write, $except, $seconds, $microseconds) < 1) {
            if ([] === $this->questions && $this->worked) {
                // What the last questions took is given back.
                $this->worked = false;
                gc_collect_cycles();
                gc_mem_caches();
            }
            if ($chores && [] === $this->questions) {
                $this->engine->chore();
            }

            return;
        }
        foreach ($read as $stream) {
            if ($stream === $server) {
                $client = @stream_socket_accept($server, 0);
                if (false !== $client) {
                    $this->clients[(int) $client] = $client;
                }
            } else {
                $this->hear($stream);
            }
        }
    }

    /** @param resource $client */
    private function hear($client): void
    {
        stream_set_timeout($client, 5);
        $message = Wire::read($client);
        // A second question before the first is answered is none of ours.
        if (null === $message || isset($this->questions[(int) $client])) {
            fclose($client);
            unset($this->clients[(int) $client], $this->questions[(int) $client], $this->turns[(int) $client]);

            return;
        }
        $op = \is_string($message[0]['op'] ?? null) ? $message[0]['op'] : '';
        $first = 'pad' === $op || 'note' === $op || true === ($message[0]['soon'] ?? false);
        if (\count($this->questions) >= self::MOST) {
            $this->drop();
        }
        $this->questions = [(int) $client => [$op, $first, $this->engine->work($message[0]), hrtime(true)]] + $this->questions;
    }

    /** One question less: of those that are not the first to be answered, if there are any, one on which least was done, and of these the oldest. */
    private function drop(): void
    {
        $order = [];
        foreach ($this->questions as $id => [, $first, , $asked]) {
            $order[$id] = [$first, $this->turns[$id] ?? 0, $asked];
        }
        asort($order);
        $least = (int) array_key_first($order);
        unset($this->questions[$least], $this->turns[$least]);
        Wire::write($this->clients[$least], ['dropped' => true]);
    }

    /** Whose turn it is. */
    private function turn(): int
    {
        $first = array_filter($this->questions, static fn (array $question): bool => $question[1]);
        $others = array_diff_key($this->questions, $first);
        if ([] === $first || ([] !== $others && 0 === ++$this->hurried % self::OTHERS_TURN)) {
            return (int) array_key_first($others);
        }

        return (int) array_key_first($first);
    }

    private function workOn(int $id): void
    {
        $this->worked = true;
        [$op, , $work, $asked] = $this->questions[$id];
        // What lies in the cache takes no time: looking up after each of its segments would.
        $until = hrtime(true) + self::TURN_NANOSECONDS;
        do {
            $work->next();
        } while ($work->valid() && hrtime(true) < $until);
        if ($work->valid()) {
            $this->turns[$id] = 1 + ($this->turns[$id] ?? 0);
            $this->pass($id);

            return;
        }
        unset($this->questions[$id], $this->turns[$id]);
        [$answer, $sound] = $work->getReturn();
        $answer['milliseconds'] = round((hrtime(true) - $asked) / 1e6, 1);
        if (isset($answer['error'])) {
            ($this->log)(\sprintf('%s: %s', $op, json_encode($answer['error'])));
        }
        Wire::write($this->clients[$id], $answer, $sound);
    }

    /** It goes behind the others that are worked on; those that wait stay behind it. */
    private function pass(int $id): void
    {
        $question = $this->questions[$id];
        unset($this->questions[$id]);
        $this->questions = \array_slice($this->questions, 0, self::AT_ONCE - 1, true) + [$id => $question] + $this->questions;
    }
}
