<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;

/** Playable recordings in a folder: one WAV file a sample, named by the hash of its source, two letters a folder. */
final readonly class SampleLibrary
{
    public function __construct(private string $folder)
    {
    }

    public function path(string $hash): string
    {
        return $this->folder.'/'.substr($hash, 0, 2).'/'.$hash.'.wav';
    }

    /** @throws UnreadableAudio when the sample is gone */
    public function open(string $hash): AudioSource
    {
        return SoundFile::open($this->path($hash));
    }
}
