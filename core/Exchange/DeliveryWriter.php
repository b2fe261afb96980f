<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Signal\Decibels;

/** Renders a beat into files, segment after segment, in memory that does not grow with its length. */
final readonly class DeliveryWriter
{
    /** Where its level is sought, it is rendered once more before; the mix alone takes less than with stems. */
    private const MEASURING = 0.4;

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
        $measured = LevelKind::AsMixed === $order->level->kind ? null : $this->measured($plan, $sounds, static fn (float $p): bool => $progress(self::MEASURING * $p));
        if (false === $measured) {
            return null;
        }
        $begun = null === $measured ? 0.0 : self::MEASURING;
        $raisedDb = null === $measured ? 0.0 : $order->level->gainDb(...$measured);
        $mix = new DeliveredFile($mixPath, $order, 1);
        $writers = $clipped = [];
        $frames = 0;
        $gain = Decibels::toGain($raisedDb - $order->lowerDb);
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
                    $writers[$name]->write($lowered);
                    if (!$order->format->isFloat() && $lowered->peak() > 1.0) {
                        $clipped[$name] = $name;
                        $peak = max($peak, $lowered->peak());
                    }
                }
                $silence = StereoBlock::silence($moment->segment->frames);
                foreach (array_diff_key($writers, $moment->stems) as $writer) {
                    $writer->write($silence);
                }
                $frames += $moment->segment->frames;
                if (!$progress($begun + (1.0 - $begun) * min(1.0, $frames / max(1, $plan->frames)))) {
                    self::discard([$mix, ...$writers]);

                    return null;
                }
            }
        } catch (\Throwable $e) {
            self::discard([$mix, ...$writers]);
            throw $e;
        }
        $mix->close($order->notes($beat, $frames, basename($mixPath, '.wav'), [$loudness->integratedLufs(), $loudness->truePeakDb()]));
        $paths = [$mixPath];
        foreach ($this->ordered($writers, $stems ?? []) as $file) {
            $file->close($order->notes($beat, $frames, basename($file->path, '.wav')));
            $paths[] = $file->path;
        }

        return new Delivered($paths, $frames, array_values($clipped), $peak, null === $measured ? '' : $order->level->sentence($raisedDb, ...$measured));
    }

    /**
     * @param callable(float): bool $progress
     *
     * @return array{float, float}|false integrated loudness and true peak of the mix; false when it was stopped
     */
    private function measured(Plan $plan, PadSounds $sounds, callable $progress): array|false
    {
        $loudness = new LoudnessMeter(Beat::SAMPLE_RATE);
        $frames = 0;
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream($plan) as $moment) {
            $loudness->add($moment->mix->block());
            $frames += $moment->segment->frames;
            if (!$progress(min(1.0, $frames / max(1, $plan->frames)))) {
                return false;
            }
        }

        return [$loudness->integratedLufs(), $loudness->truePeakDb()];
    }

    /**
     * @param array<string, string> $stems
     *
     * @return DeliveredFile already as long as the mix so far
     */
    private function stem(Beat $beat, DeliveryOrder $order, string $folder, array $stems, string $name, int $frames): DeliveredFile
    {
        $number = 1 + (int) array_search($name, array_values(array_unique($stems)), true);
        $file = new DeliveredFile($folder.'/'.DeliveryNames::stem($beat, $number, $name), $order, 1 + $number);
        for ($at = 0; $at < $frames; $at += 65536) {
            $file->write(StereoBlock::silence(min(65536, $frames - $at)));
        }

        return $file;
    }

    /**
     * @param array<string, DeliveredFile> $files
     * @param array<string, string>        $stems
     *
     * @return list<DeliveredFile>
     */
    private function ordered(array $files, array $stems): array
    {
        return array_values(array_filter(array_map(static fn (string $name): ?DeliveredFile => $files[$name] ?? null, array_unique($stems))));
    }

    /** @param array<DeliveredFile> $files */
    private static function discard(array $files): void
    {
        foreach ($files as $file) {
            $file->discard();
        }
    }
}
