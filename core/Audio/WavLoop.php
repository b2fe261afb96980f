<?php

namespace Pestle\Core\Audio;

/**
 * The loop that a WAV file names in its sampler chunk.
 * Source: Microsoft "New Multimedia Data Types and Data Techniques", the chunk "smpl".
 */
final class WavLoop
{
    /** Where its first loop's start lies in the chunk: after nine numbers of four bytes, its id and its type. */
    private const LOOP = 44;

    /** @return array{int, int}|null first frame and the one after the last; null where there is none, or it makes no sense */
    public static function in(string $path): ?array
    {
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            return null;
        }
        try {
            $head = (string) fread($stream, 12);
            if (!str_starts_with($head, 'RIFF') || 'WAVE' !== substr($head, 8)) {
                return null;
            }
            while (8 === \strlen($chunk = (string) fread($stream, 8))) {
                /** @var array{id: string, size: int} $c */
                $c = unpack('a4id/Vsize', $chunk);
                if ('smpl' === $c['id']) {
                    return self::first((string) fread($stream, max(1, min($c['size'], 60))));
                }
                if (0 !== fseek($stream, $c['size'] + $c['size'] % 2, \SEEK_CUR)) {
                    return null;
                }
            }

            return null;
        } finally {
            fclose($stream);
        }
    }

    /** @return array{int, int}|null */
    private static function first(string $bytes): ?array
    {
        if (\strlen($bytes) < self::LOOP + 8) {
            return null;
        }
        /** @var array{count: int} $head */
        $head = unpack('Vcount', $bytes, 28);
        /** @var array{start: int, end: int} $loop */
        $loop = unpack('Vstart/Vend', $bytes, self::LOOP);

        return $head['count'] < 1 || $loop['end'] <= $loop['start'] ? null : [$loop['start'], $loop['end'] + 1];
    }
}
