<?php

namespace Pestle\App\Beside;

/** What is said over a web socket, as bytes of a stream. Source: RFC 6455, without extensions and parts of messages. */
final class WebSocket
{
    public const TEXT = 1;
    public const BYTES = 2;
    private const CLOSE = 8;
    private const PING = 9;
    private const PONG = 10;
    private const MAGIC = '258EAFA5-E914-47DA-95CA-C5AB0DC85B11';
    /** Longest that a page may say at once. */
    private const LONGEST = 65_536;
    private const LONGEST_REQUEST = 8_192;

    private string $read = '';

    /**
     * What answers the request of a page of this machine's own; null while the request is not whole.
     *
     * @return array{answer: string, open: bool}|null
     */
    public function greet(string $bytes): ?array
    {
        $this->read .= $bytes;
        $end = strpos($this->read, "\r\n\r\n");
        if (false === $end) {
            return \strlen($this->read) > self::LONGEST_REQUEST ? self::refused(431) : null;
        }
        $lines = explode("\r\n", substr($this->read, 0, $end));
        $this->read = substr($this->read, $end + 4);
        $said = [];
        foreach (\array_slice($lines, 1) as $line) {
            [$name, $value] = [...explode(':', $line, 2), ''];
            $said[strtolower(trim($name))] = trim($value);
        }
        $key = $said['sec-websocket-key'] ?? '';
        // Any page of the world could ask for it: only one of this machine's own may listen.
        $own = 1 === preg_match('#^http://(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$#', $said['origin'] ?? '') && $said['origin'] === 'http://'.($said['host'] ?? '');
        if (!$own || '' === $key || 'websocket' !== strtolower($said['upgrade'] ?? '')) {
            return self::refused($own ? 400 : 403);
        }

        return ['answer' => "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Accept: ".base64_encode(sha1($key.self::MAGIC, true))."\r\n\r\n", 'open' => true];
    }

    /**
     * What came, message by message: [kind, text or bytes], and what is to be answered at once; null when it is over.
     *
     * @return array{messages: list<array{int, string}>, answer: string}|null
     */
    public function take(string $bytes): ?array
    {
        $this->read .= $bytes;
        $messages = [];
        $answer = '';
        while (null !== $frame = $this->frame()) {
            [$kind, $text] = $frame;
            if (self::PING === $kind) {
                $answer .= self::frameOf(self::PONG, $text);
            } elseif (self::TEXT === $kind || self::BYTES === $kind) {
                $messages[] = [$kind, $text];
            } elseif (self::PONG !== $kind) {
                return null;
            }
        }

        return ['messages' => $messages, 'answer' => $answer];
    }

    /** A message as it goes to a page. */
    public static function frameOf(int $kind, string $text): string
    {
        $length = \strlen($text);

        return \chr(0x80 | $kind).match (true) {
            $length < 126 => \chr($length),
            $length < 65_536 => \chr(126).pack('n', $length),
            default => \chr(127).pack('J', $length),
        }.$text;
    }

    /** @return array{int, string}|null the next whole frame; what breaks the rules is taken for its end */
    private function frame(): ?array
    {
        $there = \strlen($this->read);
        if ($there < 2) {
            return null;
        }
        [$first, $second] = [\ord($this->read[0]), \ord($this->read[1])];
        [$length, $at] = [$second & 0x7F, 2];
        if ($length >= 126) {
            $at = 126 === $length ? 4 : 10;
            if ($there < $at) {
                return null;
            }
            $length = 126 === $length ? (\ord($this->read[2]) << 8) + \ord($this->read[3]) : self::LONGEST + 1;
        }
        // Whole messages only, masked as a page's are, and none that would fill the memory.
        if ($first < 0x80 || $second < 0x80 || $length > self::LONGEST) {
            return [self::CLOSE, ''];
        }
        if ($there < $at + 4 + $length) {
            return null;
        }
        $mask = substr($this->read, $at, 4);
        $text = substr($this->read, $at + 4, $length) ^ str_repeat($mask, intdiv($length, 4) + 1);
        $this->read = substr($this->read, $at + 4 + $length);

        return [$first & 0x0F, $text];
    }

    /** @return array{answer: string, open: bool} */
    private static function refused(int $status): array
    {
        return ['answer' => "HTTP/1.1 $status Refused\r\nConnection: close\r\nContent-Length: 0\r\n\r\n", 'open' => false];
    }
}
