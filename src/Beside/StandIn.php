<?php

namespace Pestle\App\Beside;

/**
 * A device that is a program: pages reach it through a socket in the data folder, people by what they type. A message to or
 * from a page is a letter, a moment (64-bit float, little-endian) and what it is about: "m" and MIDI bytes, or "s", the
 * number of the first frame (32-bit) and 32-bit floats; as text, JSON: what it is, its time when it is asked, whether its sound is listened to.
 */
final class StandIn implements Outlet
{
    private const MIDI = 'm';
    private const SOUND = 's';
    /** Longest sleep, in milliseconds, and most that waits for a page that does not read. */
    private const SLEEP = 250.0;
    private const MOST_WAITING = 1_000_000;

    /** @var array<int, array{stream: resource, socket: WebSocket, open: bool, hears: bool, waiting: string}> */
    private array $pages = [];

    /** @param resource $typed */
    public function __construct(private readonly string $path, private readonly string $name, private readonly Device $device, private $typed)
    {
    }

    public static function now(): float
    {
        return hrtime(true) / 1e6;
    }

    /**
     * @param callable(): bool $running
     *
     * @throws \RuntimeException
     */
    public function run(callable $running): void
    {
        @unlink($this->path);
        $server = @stream_socket_server('unix://'.$this->path, $code, $message);
        if (false === $server) {
            throw new \RuntimeException(\sprintf('%s cannot be listened on: %s.', $this->path, $message));
        }
        chmod($this->path, 0o600);
        $this->say(\sprintf('%s is there. Open Pestle; "help" tells what can be typed.', $this->name));
        $next = self::now();
        try {
            while ($running() && $this->wait($server, $next)) {
                $next = $this->device->turn(self::now(), $this);
            }
        } finally {
            @unlink($this->path);
            foreach ($this->pages as ['stream' => $stream]) {
                fclose($stream);
            }
        }
    }

    public function midi(string $bytes, float $at): void
    {
        $this->send(WebSocket::frameOf(WebSocket::BYTES, self::MIDI.pack('e', $at).$bytes), false);
    }

    public function sound(int $frame, float $at, array $samples): void
    {
        $this->send(WebSocket::frameOf(WebSocket::BYTES, self::SOUND.pack('eV', $at, $frame).pack('g*', ...$samples)), true);
    }

    public function isHeard(): bool
    {
        return [] !== array_filter($this->pages, static fn (array $page): bool => $page['hears']);
    }

    public function say(string $line): void
    {
        fwrite(\STDOUT, $line."\n");
    }

    /**
     * Listens until a moment; gives false when it is told to quit.
     *
     * @param resource $server
     */
    private function wait($server, float $until): bool
    {
        // Pages go by number: they are joined, not spread.
        $read = ['server' => $server] + (feof($this->typed) ? [] : ['typed' => $this->typed]) + array_map(static fn (array $page) => $page['stream'], $this->pages);
        $write = array_map(static fn (array $page) => $page['stream'], array_filter($this->pages, static fn (array $page): bool => '' !== $page['waiting']));
        $except = null;
        $sleep = (int) (1000 * max(0.0, min(self::SLEEP, $until - self::now())));
        if (@stream_select($read, $write, $except, 0, $sleep) < 1) {
            return true;
        }
        foreach (array_keys($write) as $id) {
            $this->pour((int) $id);
        }
        foreach ($read as $id => $stream) {
            if ('server' === $id) {
                $this->welcome($server);
            } elseif ('typed' === $id) {
                if (!$this->obey(trim((string) fgets($stream)))) {
                    return false;
                }
            } else {
                $this->listen((int) $id);
            }
        }

        return true;
    }

    /** @param resource $server */
    private function welcome($server): void
    {
        $stream = @stream_socket_accept($server, 0);
        if (false !== $stream) {
            stream_set_blocking($stream, false);
            $this->pages[(int) $stream] = ['stream' => $stream, 'socket' => new WebSocket(), 'open' => false, 'hears' => false, 'waiting' => ''];
        }
    }

    private function obey(string $command): bool
    {
        if ('quit' === $command) {
            return false;
        }
        try {
            if ('' !== $command) {
                $this->say($this->device->typed($command));
            }
        } catch (\InvalidArgumentException $e) {
            $this->say($e->getMessage());
        }

        return true;
    }

    private function listen(int $id): void
    {
        $page = $this->pages[$id] ?? null;
        if (null === $page) {
            return;
        }
        $bytes = (string) @fread($page['stream'], 65_536);
        if ('' === $bytes && feof($page['stream'])) {
            $this->close($id);

            return;
        }
        if (!$page['open']) {
            $greeting = $page['socket']->greet($bytes);
            if (null !== $greeting) {
                @fwrite($page['stream'], $greeting['answer']);
                $this->pages[$id]['open'] = $greeting['open'];
                $greeting['open'] ? $this->tell($id, ['name' => $this->name, 'kind' => $this->device->kind()]) : $this->close($id);
            }

            return;
        }
        $said = $page['socket']->take($bytes);
        if (null === $said) {
            $this->close($id);

            return;
        }
        $this->pages[$id]['waiting'] .= $said['answer'];
        foreach ($said['messages'] as [$kind, $text]) {
            $this->heard($id, $kind, $text);
        }
        $this->pour($id);
    }

    private function heard(int $id, int $kind, string $text): void
    {
        if (WebSocket::BYTES === $kind && \strlen($text) > 9 && self::MIDI === $text[0]) {
            /** @var array{1: float} $at */
            $at = unpack('e', $text, 1);
            $this->device->receive(substr($text, 9), $at[1]);

            return;
        }
        $said = WebSocket::TEXT === $kind ? json_decode($text, true) : null;
        if (\is_array($said) && \is_float($said['asked'] ?? null) || \is_array($said) && \is_int($said['asked'] ?? null)) {
            $this->tell($id, ['asked' => $said['asked'], 'now' => self::now()]);
        } elseif (\is_array($said) && \is_bool($said['listens'] ?? null)) {
            $this->pages[$id]['hears'] = $said['listens'];
        }
    }

    /** @param array<string, mixed> $what */
    private function tell(int $id, array $what): void
    {
        $this->pages[$id]['waiting'] .= WebSocket::frameOf(WebSocket::TEXT, json_encode($what, \JSON_THROW_ON_ERROR));
        $this->pour($id);
    }

    private function send(string $frame, bool $sound): void
    {
        foreach ($this->pages as $id => $page) {
            if ($page['open'] && ($page['hears'] || !$sound)) {
                $this->pages[$id]['waiting'] .= $frame;
                $this->pour($id);
            }
        }
    }

    private function pour(int $id): void
    {
        $page = $this->pages[$id] ?? null;
        if (null === $page || '' === $page['waiting']) {
            return;
        }
        $written = @fwrite($page['stream'], $page['waiting']);
        $this->pages[$id]['waiting'] = substr($page['waiting'], (int) $written);
        if (false === $written || \strlen($page['waiting']) > self::MOST_WAITING) {
            $this->close($id);
        }
    }

    private function close(int $id): void
    {
        if (isset($this->pages[$id])) {
            fclose($this->pages[$id]['stream']);
            unset($this->pages[$id]);
        }
    }
}
