<?php

namespace Pestle\App\Gather;

use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/** Decodes FLAC, MP3 and Ogg with ffmpeg: a process of its own, limited in time, memory, file size and reach. */
final class ForeignDecoder
{
    private const SECONDS = 120;
    private const MEMORY_KB = 2_000_000;
    private const FILE_KB = 4_000_000;

    /** A block of Vorbis at the most: a file that is off by more says something else. */
    private const MOST_OFF = 8192;
    private const MAGIC = ['fLaC' => 'flac', 'OggS' => 'ogg', 'ID3' => 'mp3'];

    /** The decoder for a file by its first bytes, or null. */
    public static function kind(string $path): ?string
    {
        $head = (string) file_get_contents($path, false, null, 0, 12);
        foreach (self::MAGIC as $magic => $kind) {
            if (str_starts_with($head, $magic)) {
                return $kind;
            }
        }

        return \strlen($head) > 2 && "\xFF" === $head[0] && 0xE0 === (\ord($head[1]) & 0xE0) ? 'mp3' : null;
    }

    /** @throws UnreadableAudio */
    public static function toWav(string $from, string $kind, string $to, string $name): void
    {
        self::decode($from, $kind, $to, $name, '');
        $frames = 'ogg' === $kind ? self::vorbisFrames($from) : null;
        if (null === $frames) {
            return;
        }
        $off = abs(SoundFile::open($to, $name)->frames() - $frames);
        if ($off > 0 && $off <= self::MOST_OFF) {
            self::decode($from, $kind, $to, $name, \sprintf('-af apad=whole_len=%1$d,atrim=end_sample=%1$d', $frames));
        }
    }

    /** How long its last page says that it is, in frames; null for what is no Vorbis. The decoder gives whole blocks now and then. */
    private static function vorbisFrames(string $path): ?int
    {
        if (!str_contains((string) file_get_contents($path, false, null, 0, 128), "\x01vorbis")) {
            return null;
        }
        $end = (string) file_get_contents($path, false, null, max(0, (int) filesize($path) - 70_000));
        $page = strrpos($end, 'OggS');
        /** @var array{frames: int}|false $last */
        $last = false === $page || \strlen($end) < $page + 14 ? false : unpack('Pframes', $end, $page + 6);

        return false === $last || $last['frames'] < 1 ? null : $last['frames'];
    }

    /** @throws UnreadableAudio */
    private static function decode(string $from, string $kind, string $to, string $name, string $filter): void
    {
        $command = \sprintf(
            'ulimit -t %d -v %d -f %d; exec ffmpeg -nostdin -v error -protocol_whitelist file -f %s -i "$1" -vn -map 0:a:0 %s -c:a pcm_f32le -f wav -y "$2"',
            self::SECONDS,
            self::MEMORY_KB,
            self::FILE_KB,
            $kind,
            $filter,
        );
        $process = new Process(['sh', '-c', $command, 'sh', $from, $to], null, ['HOME' => '/nonexistent']);
        $process->setTimeout(self::SECONDS);
        try {
            $process->run();
        } catch (ProcessTimedOutException) {
            throw UnreadableAudio::because($name, 'decoding it took too long. Convert it to WAV and try again.');
        }
        if (!$process->isSuccessful() || !is_file($to)) {
            @unlink($to);
            throw UnreadableAudio::because($name, \sprintf('it looks like %s but cannot be decoded. Convert it to WAV, or export it again.', strtoupper($kind)));
        }
    }
}
