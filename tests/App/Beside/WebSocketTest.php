<?php

namespace Pestle\Tests\App\Beside;

use Pestle\App\Beside\WebSocket;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** The examples of RFC 6455, and what is none of ours. */
final class WebSocketTest extends TestCase
{
    private const REQUEST = "GET / HTTP/1.1\r\nHost: 127.0.0.1:8777\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\nOrigin: http://127.0.0.1:8777\r\n\r\n";

    public function testAPageOfOursIsGreeted(): void
    {
        $socket = new WebSocket();
        self::assertNull($socket->greet(substr(self::REQUEST, 0, 50)));
        $greeting = $socket->greet(substr(self::REQUEST, 50));
        self::assertTrue($greeting['open'] ?? false);
        self::assertStringContainsString('Sec-WebSocket-Accept: s3pPLMBiTxaQ9kYGzzhZRbK+xOo=', $greeting['answer']);
    }

    #[TestWith(['Origin: http://127.0.0.1:8777', 'Origin: http://elsewhere.example'])]
    #[TestWith(['Origin: http://127.0.0.1:8777', 'Origin: http://127.0.0.1:9999'])]
    #[TestWith(['Origin: http://127.0.0.1:8777', 'Accept: all'])]
    #[TestWith(['127.0.0.1:8777', 'elsewhere.example'])]
    #[TestWith(['Sec-WebSocket-Key', 'Sec-Other'])]
    #[TestWith(['Upgrade: websocket', 'Upgrade: other'])]
    public function testStrangersAreNot(string $from, string $to): void
    {
        $greeting = (new WebSocket())->greet(str_replace($from, $to, self::REQUEST));
        self::assertFalse($greeting['open'] ?? true);
        self::assertMatchesRegularExpression('/^HTTP\/1\.1 40[03]/', $greeting['answer']);
        self::assertFalse((new WebSocket())->greet(str_repeat('a', 10_000))['open'] ?? true, 'a request without an end');
    }

    public function testMessagesComeWholeHoweverTheyAreCut(): void
    {
        // "Hello", masked, as the standard shows it; a ping; bytes of three lengths.
        $bytes = "\x81\x85\x37\xfa\x21\x3d\x7f\x9f\x4d\x51\x58".self::masked(9, 'are you there').self::masked(2, "\x00\xFF").self::masked(2, str_repeat('b', 126)).self::masked(1, str_repeat('c', 40_000));
        mt_srand(random_int(1, 1_000_000));
        for ($turn = 0; $turn < 20; ++$turn) {
            $socket = new WebSocket();
            $messages = [];
            $answer = '';
            for ($at = 0; $at < \strlen($bytes); $at += $part) {
                $part = mt_rand(1, mt_rand(1, 9000));
                $taken = $socket->take(substr($bytes, $at, $part));
                self::assertNotNull($taken);
                array_push($messages, ...$taken['messages']);
                $answer .= $taken['answer'];
            }
            self::assertSame([[1, 'Hello'], [2, "\x00\xFF"], [2, str_repeat('b', 126)], [1, str_repeat('c', 40_000)]], $messages);
            self::assertSame("\x8A\x0Dare you there", $answer);
        }
    }

    #[TestWith(["\x81\x05Hello"])]
    #[TestWith(["\x88\x80abcd"])]
    #[TestWith(["\x01\x80abcd"])]
    #[TestWith(["\x81\xFF\x00\x00\x00\x00\x7F\x00\x00\x00"])]
    public function testWhatBreaksTheRulesIsOver(string $bytes): void
    {
        self::assertNull((new WebSocket())->take($bytes));
    }

    public function testMessagesToPagesOfAllLengths(): void
    {
        self::assertSame("\x81\x05Hello", WebSocket::frameOf(WebSocket::TEXT, 'Hello'));
        self::assertSame("\x82\x7E\x01\x00", substr(WebSocket::frameOf(WebSocket::BYTES, str_repeat('a', 256)), 0, 4));
        self::assertSame("\x82\x7F\x00\x00\x00\x00\x00\x01\x00\x00", substr(WebSocket::frameOf(WebSocket::BYTES, str_repeat('a', 65_536)), 0, 10));
    }

    private static function masked(int $kind, string $text): string
    {
        $mask = random_bytes(4);
        $length = \strlen($text);

        return \chr(0x80 | $kind).($length < 126 ? \chr(0x80 | $length) : \chr(0xFE).pack('n', $length)).$mask.($text ^ str_repeat($mask, intdiv($length, 4) + 1));
    }
}
