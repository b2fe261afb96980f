<?php

namespace Pestle\Core\Audio;

/**
 * The loop, and the note it was recorded at, that a WAV file names in its sampler chunk.
 * Source: Microsoft "New Multimedia Data Types and Data Techniques", the chunk "smpl".
 */
final class WavLoop
{
    /** Where its first loop's start lies in the chunk: after nine numbers of four bytes, its id and its type. */
    private const LOOP = 44;

    /** @return array{int, int}|null first frame and the one after the last; null where there is none, or it makes no sense */
    public static function in(string $path): ?array
    {
        return self::first(self::chunk($path));
    }

    /** The MIDI note it names; null where it names none. */
    public static function root(string $path): ?int
    {
        $bytes = self::chunk($path);
        if (\strlen($bytes) < 16) {
            return null;
        }
        /** @var array{note: int} $head */
        $head = unpack('Vnote', $bytes, 12);

        return $head['note'] > 127 ? null : $head['note'];
    }

    /** The beginning of the chunk, or nothing. */
    private static function chunk(string $path): string
    {
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            return '';
        }
        try {
            $head = (string) fread($stream, 12);
            if (!str_starts_with($head, 'RIFF') || 'WAVE' !== substr($head, 8)) {
                return '';
            }
            while (8 === \strlen($chunk = (string) fread($stream, 8))) {
                /** @var array{id: string, size: int} $c */
                $c = unpack('a4id/Vsize', $chunk);
                if ('smpl' === $c['id']) {
                    return (string) fread($stream, max(1, min($c['size'], 60)));
                }
                if (0 !== fseek($stream, $c['size'] + $c['size'] % 2, \SEEK_CUR)) {
                    return '';
                }
            }

            return '';
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
