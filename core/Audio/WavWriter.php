<?php

namespace Pestle\Core\Audio;

/**
 * Writes a stereo WAV file block by block. The file appears under its name only when it is
 * complete: until close() it is a neighbour named ".part".
 */
final class WavWriter
{
    /** @var resource */
    private $stream;
    private int $bytes = 0;
    private readonly PcmEncoder $encoder;

    public function __construct(
        private readonly string $path,
        private readonly int $sampleRate,
        private readonly SampleFormat $format,
        ?Dither $dither = null,
    ) {
        $this->encoder = new PcmEncoder($format, $dither);
        $stream = @fopen($path.'.part', 'w');
        if (false === $stream) {
            throw new \RuntimeException(\sprintf('%s cannot be written. Check the folder and its rights.', $path));
        }
        $this->stream = $stream;
        $this->put(self::header($this->sampleRate, $this->format, $this->bytes));
    }

    /** Writes all of a source. */
    public static function copy(AudioSource $source, string $path, SampleFormat $format): void
    {
        $writer = new self($path, $source->sampleRate(), $format);
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += 16384) {
            $writer->write($source->read($at, min(16384, $frames - $at)));
        }
        $writer->close();
    }

    public function write(StereoBlock $block): void
    {
        $data = $this->encoder->encode($block);
        $this->bytes += \strlen($data);
        $this->put($data);
    }

    /** Leaves away what lies behind so many frames. */
    public function cut(int $frames): void
    {
        $this->bytes = max(0, min($this->bytes, 2 * $this->format->bytes() * $frames));
        $length = \strlen(self::header($this->sampleRate, $this->format, 0)) + $this->bytes;
        fflush($this->stream);
        ftruncate($this->stream, $length);
        fseek($this->stream, $length);
    }

    /** Says what it is, completes the header and gives the file its name. */
    public function close(?WavNotes $notes = null): void
    {
        $said = (1 === $this->bytes % 2 ? "\0" : '').($notes?->chunks($this->sampleRate, new \DateTimeImmutable()) ?? '');
        $this->put($said);
        rewind($this->stream);
        $this->put(self::header($this->sampleRate, $this->format, $this->bytes, \strlen($said)));
        fclose($this->stream);
        rename($this->path.'.part', $this->path);
    }

    /** Gives up: nothing stays behind. */
    public function discard(): void
    {
        fclose($this->stream);
        @unlink($this->path.'.part');
    }

    /** All before the sound of a stereo file, and so many bytes that come after it. What is not PCM says how its format goes on, and how many frames there are (Microsoft, "Multiple channel audio data and WAVE files"). */
    public static function header(int $sampleRate, SampleFormat $sampleFormat, int $bytes, int $after = 0): string
    {
        $frame = 2 * $sampleFormat->bytes();
        $isFloat = $sampleFormat->isFloat();
        $format = pack('vvVVvv', $isFloat ? 3 : 1, 2, $sampleRate, $sampleRate * $frame, $frame, $sampleFormat->bits()).($isFloat ? pack('v', 0) : '');
        $chunks = 'WAVEfmt '.pack('V', \strlen($format)).$format.($isFloat ? 'fact'.pack('VV', 4, intdiv($bytes, $frame)) : '').'data'.pack('V', $bytes);

        return 'RIFF'.pack('V', \strlen($chunks) + $bytes + $after).$chunks;
    }

    private function put(string $data): void
    {
        if (\strlen($data) !== @fwrite($this->stream, $data)) {
            throw new \RuntimeException(\sprintf('%s cannot be written: the disk may be full.', $this->path));
        }
    }
}
