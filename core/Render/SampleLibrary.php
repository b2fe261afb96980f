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
    /** Edits of a sound this short are worked out at once. */
    private const AT_ONCE_SECONDS = 8.0;
    /** Beside the sound: touched whenever somebody who does not wait asks for it. */
    private const ASKED = '.asked';
    /** Pages and players ask again every second or two while they want it. */
    private const ASKED_SECONDS = 60;
    /** Beside the sound that is worked out. */
    private const PROGRESS = '.progress';

    /**
     * @param string|null $kept    folder of worked-out samples
     * @param bool        $waits   whether edits that take long are worked out here; else they are refused until somebody did
     * @param bool        $givesUp whether working them out ends when those that don't wait have stopped asking
     */
    public function __construct(private string $folder, private ?string $kept = null, private bool $waits = true, private bool $givesUp = false)
    {
    }

    public function path(string $hash): string
    {
        return $this->folder.'/'.substr($hash, 0, 2).'/'.$hash.'.wav';
    }

    /**
     * @param string $sound hash of a sample, and its edits as Edits::of() writes them
     *
     * @throws UnreadableAudio  when the sample is gone
     * @throws NotMadeYet       when its edits take long and this library does not wait
     * @throws NotWantedAnyMore when it gave up
     */
    public function open(string $sound): AudioSource
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        $source = SoundFile::open($this->path($hash));
        if ('' === $json) {
            return $source;
        }
        $edits = self::edits($json);
        if (null === $this->kept) {
            return $edits->apply($source);
        }
        // What takes long is kept up to there; what comes after it is laid over it in passing.
        [$heavy, $light] = $edits->split();
        if (!$this->isReady($sound)) {
            throw new NotMadeYet($sound, $this->progress($sound));
        }

        return $light->apply([] === $heavy->list ? $source : $this->workedOut($heavy->of($hash), $source, $heavy, $this->kept));
    }

    /**
     * Whether a sound can be opened without a long wait.
     *
     * @phpstan-impure
     */
    public function isReady(string $sound): bool
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        if ($this->waits || '' === $json || null === $this->kept) {
            return true;
        }
        [$heavy] = self::edits($json)->split();

        $path = self::worked($heavy->of($hash), $this->kept);
        if ([] === $heavy->list || is_file($path) || SoundFile::open($this->path($hash))->seconds() <= self::AT_ONCE_SECONDS) {
            return true;
        }
        @touch(substr($path, 0, -\strlen('.wav')).self::ASKED);

        return false;
    }

    /** What can be heard of a sound at once, as long as it is. */
    public function lighter(string $sound): string
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];

        return self::edits($json)->lighter(SoundFile::open($this->path($hash))->frames())->of($hash);
    }

    private static function worked(string $sound, string $folder): string
    {
        return $folder.'/'.hash('sha256', $sound).'.wav';
    }

    /**
     * How far a sound is that somebody works out at this moment, 0 to 1; null when nobody does.
     *
     * @phpstan-impure
     */
    public function progress(string $sound): ?float
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        [$heavy] = self::edits($json)->split();
        $told = null === $this->kept ? '' : (string) @file_get_contents($this->kept.'/'.hash('sha256', $heavy->of($hash)).self::PROGRESS);

        return '' === $told ? null : (float) $told;
    }

    private static function edits(string $json): Edits
    {
        return '' === $json ? new Edits() : EditFields::read(new Fields(['edits' => $json]), 'edits');
    }

    private function workedOut(string $sound, AudioSource $source, Edits $edits, string $folder): AudioSource
    {
        is_dir($folder) || @mkdir($folder, 0o700, true);
        $name = hash('sha256', $sound);
        $path = self::worked($sound, $folder);
        if (!is_file($path)) {
            // Several pages and the engine may want it at once: one of them works, the others wait. Those that want another go on
            // beside it, but for the one in 256 that has the same lock.
            $lock = fopen($folder.'/lock-'.substr($name, 0, 2), 'c') ?: throw new \RuntimeException('The folder of worked-out samples can\'t be written: '.$folder);
            flock($lock, \LOCK_EX);
            try {
                if (!is_file($path)) {
                    self::makeRoom($folder);
                    WavWriter::copy($edits->apply($source), $path, SampleFormat::Float32, $this->teller($folder.'/'.$name));
                    @unlink($folder.'/'.$name.self::ASKED);
                }
            } finally {
                @unlink($folder.'/'.$name.self::PROGRESS);
                @unlink($path.'.part');
                flock($lock, \LOCK_UN);
            }
        }

        return SoundFile::open($path);
    }

    /** @return callable(float): void writes it down five times a second, and ends what nobody wants any more */
    private function teller(string $path): callable
    {
        $told = 0.0;

        return function (float $progress) use ($path, &$told): void {
            if (microtime(true) - $told > 0.2) {
                $told = microtime(true);
                file_put_contents($path.self::PROGRESS, \sprintf('%.3f', $progress));
                clearstatcache(true, $path.self::ASKED);
                $asked = $this->givesUp ? @filemtime($path.self::ASKED) : false;
                if (false !== $asked && $asked < time() - self::ASKED_SECONDS) {
                    throw new NotWantedAnyMore('Nobody asks for these edits any more.');
                }
            }
        };
    }

    private static function makeRoom(string $folder): void
    {
        $files = glob($folder.'/*.{wav,outline,hits}', \GLOB_BRACE) ?: [];
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
