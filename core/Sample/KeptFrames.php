<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\PcmDecoder;
use Pestle\Core\Audio\PcmEncoder;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;

/** What was worked out, in a temporary file, so that memory does not grow with it. */
final readonly class KeptFrames
{
    /** @var resource interleaved 32-bit floats */
    private mixed $stream;

    public function __construct()
    {
        $this->stream = tmpfile() ?: throw new \RuntimeException('No temporary file could be made.');
    }

    public function write(int $at, StereoBlock $block): void
    {
        fseek($this->stream, 8 * $at);
        fwrite($this->stream, (new PcmEncoder(SampleFormat::Float32))->encode($block));
    }

    public function read(int $start, int $count): StereoBlock
    {
        fseek($this->stream, 8 * $start);
        $bytes = str_pad((string) stream_get_contents($this->stream, 8 * $count), 8 * $count, "\0");
        $block = (new PcmDecoder(SampleFormat::Float32, 2))->decode($bytes);

        return $block->left === $block->right ? new StereoBlock($block->left, $block->left) : $block;
    }
}
