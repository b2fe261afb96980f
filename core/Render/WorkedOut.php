<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmEncoder;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\WavWriter;

/**
 * A sound whose edits take long, kept in a file. Until it is finished it is made piece by piece in a neighbour of that
 * file, beginning with the place that is listened to; what is made can be heard already.
 */
final readonly class WorkedOut
{
    /** Frames of a piece. */
    public const PIECE = 1 << 17;
    /** Pages and players ask again every second or two while they want it. */
    private const ASKED_SECONDS = 60;

    public string $path;
    private string $part;
    /** One letter a piece: 1 for those that are there. */
    private string $pieces;
    /** The frame that was asked for last, by somebody who does not wait, and when. */
    private string $asked;

    /**
     * @param string $folder of worked-out sounds
     * @param string $sound  its name
     */
    public function __construct(private string $folder, string $sound)
    {
        $base = $folder.'/'.hash('sha256', $sound);
        $this->path = $base.'.wav';
        $this->part = $base.'.wav.part';
        $this->pieces = $base.'.pieces';
        $this->asked = $base.'.asked';
    }

    /** @phpstan-impure */
    public function isReady(): bool
    {
        return is_file($this->path);
    }

    /** Asks for it, from a frame on. */
    public function ask(int $frame): void
    {
        is_dir($this->folder) && @file_put_contents($this->asked, (string) $frame);
    }

    /**
     * Which pieces are there while it is being made: one letter each, 1 for those that are; empty when nobody makes it.
     *
     * @phpstan-impure
     */
    public function pieces(): string
    {
        return (string) @file_get_contents($this->pieces);
    }

    /**
     * How far it is, 0 to 1; null when nobody makes it.
     *
     * @phpstan-impure
     */
    public function progress(): ?float
    {
        $pieces = $this->pieces();

        return '' === $pieces ? null : substr_count($pieces, '1') / \strlen($pieces);
    }

    /**
     * The sound with another in the place of pieces that are not there.
     *
     * @param string $pieces as pieces() said
     */
    public function among(AudioSource $lighter, string $pieces): AudioSource
    {
        // It may have been finished meanwhile.
        $made = is_file($this->part) ? $this->part : $this->path;

        return is_file($made) ? new Patched($lighter, SoundFile::open($made), $pieces, self::PIECE) : $lighter;
    }

    /**
     * Makes it unless somebody else does, for whom it waits then.
     *
     * @param callable(): AudioSource $source  gives what is to be kept
     * @param bool                    $givesUp whether to end when nobody asks any more
     *
     * @throws NotWantedAnyMore
     */
    public function make(callable $source, bool $givesUp): void
    {
        // Several pages may want it at once: one of them works, the others wait. Those that want another go on beside it, but
        // for the one in 256 that has the same lock.
        $lock = fopen($this->folder.'/lock-'.substr(basename($this->path), 0, 2), 'c') ?: throw new \RuntimeException('The folder of worked-out samples can\'t be written: '.$this->folder);
        flock($lock, \LOCK_EX);
        try {
            if (!$this->isReady()) {
                file_put_contents($this->pieces, '0');
                $this->inPieces($source(), $givesUp);
                rename($this->part, $this->path);
                @unlink($this->asked);
            }
        } finally {
            @unlink($this->pieces);
            @unlink($this->part);
            flock($lock, \LOCK_UN);
        }
    }

    private function inPieces(AudioSource $source, bool $givesUp): void
    {
        $frames = $source->frames();
        $encoder = new PcmEncoder(SampleFormat::Float32);
        $header = WavWriter::header($source->sampleRate(), SampleFormat::Float32, 8 * $frames);
        $stream = fopen($this->part, 'w') ?: throw new \RuntimeException(\sprintf('%s cannot be written. Check the folder and its rights.', $this->path));
        fwrite($stream, $header);
        ftruncate($stream, max(0, \strlen($header) + 8 * $frames));
        $pieces = str_repeat('0', max(1, (int) ceil($frames / self::PIECE)));
        while (false !== ($i = $this->nextOf($pieces))) {
            for ($at = $i * self::PIECE, $end = min($at + self::PIECE, $frames); $at < $end; $at += 16384) {
                $this->stayOrGiveUp($givesUp);
                $data = $encoder->encode($source->read($at, min(16384, $end - $at)));
                fseek($stream, \strlen($header) + 8 * $at);
                if (\strlen($data) !== @fwrite($stream, $data)) {
                    throw new \RuntimeException(\sprintf('%s cannot be written: the disk may be full.', $this->path));
                }
            }
            fflush($stream);
            $pieces[$i] = '1';
            file_put_contents($this->pieces.'.new', $pieces);
            rename($this->pieces.'.new', $this->pieces);
        }
        fclose($stream);
    }

    /** The first piece that is missing from the place on that was asked for last, or else at all; false when none is. */
    private function nextOf(string $pieces): int|false
    {
        $wanted = intdiv((int) @file_get_contents($this->asked), self::PIECE);
        $later = $wanted < \strlen($pieces) ? strpos($pieces, '0', max(0, $wanted)) : false;

        return false === $later ? strpos($pieces, '0') : $later;
    }

    private function stayOrGiveUp(bool $givesUp): void
    {
        clearstatcache(true, $this->asked);
        $asked = $givesUp ? @filemtime($this->asked) : false;
        if (false !== $asked && $asked < time() - self::ASKED_SECONDS) {
            throw new NotWantedAnyMore('Nobody asks for these edits any more.');
        }
    }
}
