<?php

namespace Pestle\App\Gather;

use Pestle\Core\Audio\WavChunks;
use Pestle\Core\Theory\Key;
use Symfony\Component\Process\Process;

/** Tempo and key that a file says of itself, in its ID3, Vorbis or INFO tags; read by ffprobe, a process of its own. */
final class FileTags
{
    private const SECONDS = 10;
    private const MEMORY_KB = 2_000_000;
    private const TEMPO = ['tbpm', 'bpm', 'tempo'];
    private const KEY = ['tkey', 'key', 'initialkey', 'initial_key'];

    /** @return array{bpm?: float, key?: string} what is there and makes sense */
    public static function of(string $path): array
    {
        $kind = ForeignDecoder::kind($path) ?? (str_starts_with((string) file_get_contents($path, false, null, 0, 4), 'FORM') ? 'aiff' : 'wav');
        // Most have none, and asking takes a process.
        if ('wav' === $kind && [] === WavChunks::of($path, 'LIST', 'id3 ', 'ID3 ')) {
            return [];
        }
        // Told what it is, it opens nothing else that a tag may name.
        $command = \sprintf('ulimit -t %d -v %d -f 0; exec ffprobe -v error -protocol_whitelist file -f %s -show_entries format_tags:stream_tags -of json -i "$1"', self::SECONDS, self::MEMORY_KB, $kind);
        $process = new Process(['sh', '-c', $command, 'sh', $path], null, ['HOME' => '/nonexistent']);
        $process->setTimeout(self::SECONDS);
        try {
            $process->run();
        } catch (\Throwable) {
            return [];
        }
        /** @var array{format?: array{tags?: array<string, string>}, streams?: list<array{tags?: array<string, string>}>}|null $said */
        $said = json_decode($process->getOutput(), true);
        $tags = array_change_key_case([...$said['streams'][0]['tags'] ?? [], ...$said['format']['tags'] ?? []]);
        $found = [];
        foreach (self::TEMPO as $name) {
            if (is_numeric($tags[$name] ?? null) && (float) $tags[$name] >= 20 && (float) $tags[$name] <= 400) {
                $found['bpm'] = (float) $tags[$name];
            }
        }
        foreach (self::KEY as $name) {
            $key = self::key($tags[$name] ?? '');
            if (null !== $key) {
                $found['key'] = $key;
            }
        }

        return $found;
    }

    /** "Cm", "F#", "Bb minor" and the like; ID3 writes sharps as #, flats as b, minor as m. */
    private static function key(string $text): ?string
    {
        if (!preg_match('/^([A-G][#b]?)\s*(m|min|minor|maj|major)?$/i', trim($text), $m)) {
            return null;
        }
        $mode = strtolower($m[2] ?? '');
        try {
            return Key::named(ucfirst(strtolower($m[1])).(\in_array($mode, ['m', 'min', 'minor'], true) ? ' minor' : ' major'))->name();
        } catch (\InvalidArgumentException) {
            return null;
        }
    }
}
