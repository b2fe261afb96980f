<?php

namespace Pestle\App\Console;

use Pestle\App\Gather\ForeignDecoder;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;

/** A sound file that a command is given, in whatever format it is. */
final class SoundFileIn
{
    /**
     * @template T
     *
     * @param \Closure(PcmFile): T $with what it is opened for; what it was decoded to is gone afterwards
     *
     * @return T
     *
     * @throws UnreadableAudio
     */
    public static function opened(string $file, \Closure $with): mixed
    {
        if (!is_file($file)) {
            throw UnreadableAudio::because($file, 'there is no such file.');
        }
        $kind = ForeignDecoder::kind($file);
        if (null === $kind) {
            return $with(SoundFile::open($file));
        }
        $decoded = (string) tempnam(sys_get_temp_dir(), 'pestle');
        try {
            ForeignDecoder::toWav($file, $kind, $decoded, basename($file));

            return $with(SoundFile::open($decoded, basename($file)));
        } finally {
            @unlink($decoded);
        }
    }
}
