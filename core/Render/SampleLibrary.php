<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Sample\Edits;

/**
 * Playable recordings in a folder: one WAV file a sample, named by the hash of its source, two letters a folder.
 * A sample with edits is worked out from its source; what takes long is kept in a second folder.
 */
final readonly class SampleLibrary
{
    /** Bytes that worked-out samples may take; those made longest ago go first. */
    private const MOST_KEPT = 2_000_000_000;

    /** @param string|null $kept folder of worked-out samples */
    public function __construct(private string $folder, private ?string $kept = null)
    {
    }

    public function path(string $hash): string
    {
        return $this->folder.'/'.substr($hash, 0, 2).'/'.$hash.'.wav';
    }

    /**
     * @param string $sound hash of a sample, and its edits as Edits::of() writes them
     *
     * @throws UnreadableAudio when the sample is gone
     */
    public function open(string $sound): AudioSource
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        $source = SoundFile::open($this->path($hash));
        if ('' === $json) {
            return $source;
        }
        $edits = EditFields::read(new Fields(['edits' => $json]), 'edits');
        if (null === $this->kept) {
            return $edits->apply($source);
        }
        // What takes long is kept up to there; what comes after it is laid over it in passing.
        [$heavy, $light] = $edits->split();

        return $light->apply([] === $heavy->list ? $source : self::workedOut($heavy->of($hash), $source, $heavy, $this->kept));
    }

    private static function workedOut(string $sound, AudioSource $source, Edits $edits, string $folder): AudioSource
    {
        is_dir($folder) || @mkdir($folder, 0o700, true);
        $name = hash('sha256', $sound);
        $path = $folder.'/'.$name.'.wav';
        if (!is_file($path)) {
            // Several pages and the engine may want it at once: one of them works, the others wait. Those that want another go on
            // beside it, but for the one in 256 that has the same lock.
            $lock = fopen($folder.'/lock-'.substr($name, 0, 2), 'c') ?: throw new \RuntimeException('The folder of worked-out samples can\'t be written: '.$folder);
            flock($lock, \LOCK_EX);
            try {
                if (!is_file($path)) {
                    self::makeRoom($folder);
                    WavWriter::copy($edits->apply($source), $path, SampleFormat::Float32);
                }
            } finally {
                flock($lock, \LOCK_UN);
            }
        }

        return SoundFile::open($path);
    }

    private static function makeRoom(string $folder): void
    {
        $files = glob($folder.'/*.{wav,outline}', \GLOB_BRACE) ?: [];
        $sizes = array_combine($files, array_map(static fn (string $f): int => (int) @filesize($f), $files));
        uksort($sizes, static fn (string $a, string $b): int => @filemtime($a) <=> @filemtime($b));
        $sum = array_sum($sizes);
        foreach ($sizes as $file => $size) {
            if ($sum <= self::MOST_KEPT) {
                break;
            }
            @unlink($file);
            $sum -= $size;
        }
    }
}
