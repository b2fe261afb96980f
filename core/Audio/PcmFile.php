<?php

namespace Pestle\Core\Audio;

/** Uncompressed sound in a file, as its header describes it; read in pieces, never whole. */
final class PcmFile implements AudioSource
{
    private readonly PcmDecoder $decoder;

    /**
     * @param resource     $stream  seekable, kept open
     * @param list<string> $repairs what the header got wrong and how it was read instead, in words
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
    ) {
        $this->decoder = new PcmDecoder($format, $channels, $bigEndian, $signedBytes);
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

    private function stored(int $start, int $count): StereoBlock
    {
        $bytes = $this->decoder->frameBytes();
        fseek($this->stream, $this->dataOffset + $start * $bytes);
        $want = max(1, $count * $bytes);
        $data = (string) stream_get_contents($this->stream, $want);

        return $this->decoder->decode(str_pad($data, $want, "\0"));
    }
}
