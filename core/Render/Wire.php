<?php

namespace Pestle\Core\Render;

/** Messages between the application and the engine. */
final class Wire
{
    private const MOST_JSON = 64_000_000;

    /**
     * @param resource             $stream
     * @param array<string, mixed> $message
     */
    public static function write($stream, array $message, string $sound = ''): bool
    {
        $json = json_encode($message, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION);
        $data = pack('VV', \strlen($json), \strlen($sound)).$json.$sound;
        for ($at = 0, $n = \strlen($data); $at < $n; $at += $done) {
            $done = @fwrite($stream, substr($data, $at, 1 << 20));
            if (false === $done || 0 === $done) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param resource $stream
     *
     * @return array{array<string, mixed>, string}|null null when the other side is gone
     */
    public static function read($stream): ?array
    {
        $head = self::exactly($stream, 8);
        if (null === $head) {
            return null;
        }
        /** @var array{json: int, sound: int} $size */
        $size = unpack('Vjson/Vsound', $head);
        $json = $size['json'] > self::MOST_JSON ? null : self::exactly($stream, $size['json']);
        $sound = null === $json ? null : self::exactly($stream, $size['sound']);
        $message = null === $json ? null : json_decode($json, true);
        if (null === $sound || !\is_array($message)) {
            return null;
        }
        $named = [];
        foreach ($message as $key => $value) {
            $named[(string) $key] = $value;
        }

        return [$named, $sound];
    }

    /** @param resource $stream */
    private static function exactly($stream, int $bytes): ?string
    {
        $data = '';
        while (($rest = $bytes - \strlen($data)) > 0) {
            $part = @fread($stream, $rest);
            if (false === $part || '' === $part) {
                return null;
            }
            $data .= $part;
        }

        return $data;
    }
}
