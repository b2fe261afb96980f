<?php

namespace Pestle\Core\Audio;

/** Opens an uncompressed file by its content, never by its name. */
final class SoundFile
{
    /** @throws UnreadableAudio */
    public static function open(string $path, ?string $name = null): PcmFile
    {
        $name ??= basename($path);
        $stream = @fopen($path, 'r');
        if (false === $stream) {
            throw UnreadableAudio::because($name, 'the file cannot be opened. Check that it still exists.');
        }
        $kind = (string) fread($stream, 4);
        rewind($stream);

        return 'FORM' === $kind ? AiffReader::read($stream, $name) : WavReader::read($stream, $name);
    }
}
