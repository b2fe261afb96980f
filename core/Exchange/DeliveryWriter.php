<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\Dither;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Decibels;

/** Renders a beat into files, segment after segment, in memory that does not grow with its length. */
final readonly class DeliveryWriter
{
    public function __construct(private SampleLibrary $library)
    {
    }

    /**
     * @param string                $mixPath    where the mix goes
     * @param string                $stemFolder where the stems go
     * @param callable(float): bool $progress   told how far it is, 0 to 1; false stops
     *
     * @return Delivered|null null when it was stopped: then nothing is left behind
     */
    public function write(Beat $beat, DeliveryOrder $order, string $mixPath, string $stemFolder, callable $progress): ?Delivered
    {
        $sounds = new PadSounds($this->library, Beat::SAMPLE_RATE);
        $plan = $order->plan($beat, $sounds);
        $stems = $order->stems($beat);
        $mix = $this->writer($mixPath, $order, 1);
        $writers = $clipped = [];
        $frames = 0;
        $gain = Decibels::toGain(-$order->lowerDb);
        $peak = 1.0;
        $loudness = new LoudnessMeter(Beat::SAMPLE_RATE);
        try {
            foreach ((new Renderer($sounds, SegmentCache::none()))->stream($plan, $stems) as $moment) {
                $whole = Gain::sides($moment->mix->block(), $gain, $gain);
                $mix->write($whole);
                $loudness->add($whole);
                foreach ($moment->stems as $name => $block) {
                    // A stem begins with its first sound; one that stays silent is left out, as is what was not wanted.
                    if (\in_array((string) $name, $order->leftOut, true) || (!isset($writers[$name]) && 0.0 === $block->peak())) {
                        continue;
                    }
                    $writers[$name] ??= $this->stem($beat, $order, $stemFolder, $stems ?? [], $name, $frames);
                    $lowered = Gain::sides($block, $gain, $gain);
                    $writers[$name][1]->write($lowered);
                    if (!$order->format->isFloat() && $lowered->peak() > 1.0) {
                        $clipped[$name] = $name;
                        $peak = max($peak, $lowered->peak());
                    }
                }
                $silence = StereoBlock::silence($moment->segment->frames);
                foreach (array_diff_key($writers, $moment->stems) as [, $writer]) {
                    $writer->write($silence);
                }
                $frames += $moment->segment->frames;
                if (!$progress(min(1.0, $frames / max(1, $plan->frames)))) {
                    $this->discard([$mix, ...array_column($writers, 1)]);

                    return null;
                }
            }
        } catch (\Throwable $e) {
            $this->discard([$mix, ...array_column($writers, 1)]);
            throw $e;
        }
        $mix->close($order->notes($beat, $frames, basename($mixPath, '.wav'), [$loudness->integratedLufs(), $loudness->truePeakDb()]));
        $paths = [$mixPath];
        foreach ($this->ordered($writers, $stems ?? []) as [$path, $writer]) {
            $writer->close($order->notes($beat, $frames, basename($path, '.wav')));
            $paths[] = $path;
        }

        return new Delivered($paths, $frames, array_values($clipped), $peak);
    }

    /**
     * @param array<string, string> $stems
     *
     * @return array{string, WavWriter} path and writer, already as long as the mix so far
     */
    private function stem(Beat $beat, DeliveryOrder $order, string $folder, array $stems, string $name, int $frames): array
    {
        $number = 1 + (int) array_search($name, array_values(array_unique($stems)), true);
        $path = $folder.'/'.DeliveryNames::stem($beat, $number, $name);
        $writer = $this->writer($path, $order, 1 + $number);
        for ($at = 0; $at < $frames; $at += 65536) {
            $writer->write(StereoBlock::silence(min(65536, $frames - $at)));
        }

        return [$path, $writer];
    }

    private function writer(string $path, DeliveryOrder $order, int $seed): WavWriter
    {
        $dither = $order->dither && SampleFormat::Float32 !== $order->format ? new Dither($seed) : null;

        return new WavWriter($path, Beat::SAMPLE_RATE, $order->format, $dither);
    }

    /**
     * @param array<string, array{string, WavWriter}> $writers
     * @param array<string, string>                   $stems
     *
     * @return list<array{string, WavWriter}>
     */
    private function ordered(array $writers, array $stems): array
    {
        $out = [];
        foreach (array_unique($stems) as $name) {
            if (isset($writers[$name])) {
                $out[] = $writers[$name];
            }
        }

        return $out;
    }

    /** @param list<WavWriter> $writers */
    private function discard(array $writers): void
    {
        foreach ($writers as $writer) {
            $writer->discard();
        }
    }
}
