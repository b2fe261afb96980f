<?php

namespace Pestle\Core\Audio;

/** Uncompressed sound in a file, as its header describes it; read in pieces, never whole. */
final class PcmFile implements AudioSource
{
    private readonly PcmDecoder $decoder;

    /**
     * @param resource     $stream  seekable, kept open
     * @param list<string> $repairs what the header got wrong and how it was read instead, in words
     * @param int          $places  where channels are, as of Downmix::gains()
     */
    public function __construct(
        private $stream,
        private readonly int $dataOffset,
        private readonly int $frames,
        private readonly int $sampleRate,
        public readonly int $channels,
        public readonly SampleFormat $format,
        public readonly array $repairs = [],
        bool $bigEndian = false,
        bool $signedBytes = false,
        int $places = 0,
    ) {
        $this->decoder = new PcmDecoder($format, $channels, $bigEndian, $signedBytes, $places);
    }

    public function sampleRate(): int
    {
        return $this->sampleRate;
    }

    public function frames(): int
    {
        return $this->frames;
    }

    public function seconds(): float
    {
        return $this->frames / $this->sampleRate;
    }

    public function read(int $start, int $count): StereoBlock
    {
        return Reading::padded($start, $count, $this->frames, $this->stored(...));
    }

    /** Sound as it is stored, for Unpacked::words(), two frames in each; null when it is not 16-bit stereo or not all there. */
    public function stereo16(int $start, int $count): ?string
    {
        return 2 === $this->channels && $this->decoder->isInWords() && $start >= 0 && $start + $count <= $this->frames ? $this->bytes($start, $count) : null;
    }

    private function stored(int $start, int $count): StereoBlock
    {
        return $this->decoder->decode($this->bytes($start, $count));
    }

    private function bytes(int $start, int $count): string
    {
        $bytes = $this->decoder->frameBytes();
        fseek($this->stream, $this->dataOffset + $start * $bytes);
        $want = max(1, $count * $bytes);

        return str_pad((string) stream_get_contents($this->stream, $want), $want, "\0");
    }
}
