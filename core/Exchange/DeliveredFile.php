<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\Dither;
use Pestle\Core\Audio\Looped;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavNotes;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;

/** One file of a delivery, as it is ordered: at another rate than a beat's it is written as it is first, then resampled. */
final readonly class DeliveredFile
{
    private const BLOCK = 16_384;
    private WavWriter $writer;

    public function __construct(public string $path, private DeliveryOrder $order, private int $seed)
    {
        $this->writer = $this->isResampled() ? new WavWriter($this->unsampled(), Beat::SAMPLE_RATE, SampleFormat::Float32) : $this->final();
    }

    public function write(StereoBlock $block): void
    {
        $this->writer->write($block);
    }

    /** Leaves away what lies behind so many frames, as they were written. */
    public function cut(int $frames): void
    {
        $this->writer->cut($frames);
    }

    /** @param WavNotes $notes places in frames of the beat's rate */
    public function close(WavNotes $notes): void
    {
        if (!$this->isResampled()) {
            $this->writer->close($notes);

            return;
        }
        $this->writer->close();
        $source = SoundFile::open($this->unsampled());
        $frames = (int) round($source->frames() * $this->order->rate / Beat::SAMPLE_RATE);
        $sound = Resampled::toRate($this->order->loop ? new Looped($source) : $source, $this->order->rate);
        $final = $this->final();
        try {
            for ($at = 0; $at < $frames; $at += self::BLOCK) {
                $final->write($sound->read($at, min(self::BLOCK, $frames - $at)));
            }
            $final->close($notes->atRate(Beat::SAMPLE_RATE, $this->order->rate));
        } catch (\Throwable $e) {
            $final->discard();
            throw $e;
        } finally {
            @unlink($this->unsampled());
        }
    }

    /** Gives up: nothing stays behind. */
    public function discard(): void
    {
        $this->writer->discard();
        @unlink($this->unsampled());
    }

    private function isResampled(): bool
    {
        return Beat::SAMPLE_RATE !== $this->order->rate;
    }

    private function unsampled(): string
    {
        return $this->path.'.unsampled';
    }

    private function final(): WavWriter
    {
        $dither = $this->order->dither && SampleFormat::Float32 !== $this->order->format ? new Dither($this->seed, $this->order->shaped) : null;

        return new WavWriter($this->path, $this->order->rate, $this->order->format, $dither);
    }
}
