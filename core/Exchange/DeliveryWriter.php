<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Analysis\LoudnessMeter;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavNotes;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
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
        $measured = LevelKind::AsMixed === $order->level->kind ? null : $this->measured($plan, $order->window($beat), $sounds, static fn (float $p): bool => $progress(self::MEASURING * $p));
        if (false === $measured) {
            return null;
        }
        $begun = null === $measured ? 0.0 : self::MEASURING;
        $raisedDb = null === $measured ? 0.0 : $order->level->gainDb(...$measured);
        $gain = Decibels::toGain($raisedDb - $order->lowerDb);
        $window = $order->window($beat);
        $loudness = new LoudnessMeter(Beat::SAMPLE_RATE);
        $files = new DeliveryFiles($beat, $order, $mixPath, $stemFolder, $stems ?? [], $gain);
        try {
            foreach ($this->stream($plan, $window, $sounds, $stems, static fn (float $p): bool => $progress($begun + (1.0 - $begun) * $p)) as [$mix, $parts]) {
                if (null === $mix) {
                    $files->discard();

                    return null;
                }
                $whole = Gain::sides($mix, $gain, $gain);
                $files->write($whole, $parts);
                $loudness->add($whole);
            }
            if ($order->trimmed && 0 === $window->frames()) {
                throw new InvalidChange('There is nothing to be heard in it, so that nothing is left without silence. Keep the silence, or deliver something else.');
            }
        } catch (\Throwable $e) {
            $files->discard();
            throw $e;
        }
        $said = [$loudness->integratedLufs(), $loudness->truePeakDb()];
        $paths = $files->close($window->frames(), static fn (string $title, bool $isMix): WavNotes => $order->notes($beat, $window->begun(), $window->frames(), $title, $isMix ? $said : null));

        return new Delivered($paths, $window->frames(), array_values($files->clipped), $files->peak, null === $measured ? '' : $order->level->sentence($raisedDb, ...$measured), $said);
    }

    /**
     * What of the plan is wanted, piece by piece: the mix, and its stems by name; nothing as soon as it was stopped.
     *
     * @param array<string, string>|null $stems
     * @param callable(float): bool      $progress
     *
     * @return \Generator<int, array{StereoBlock|null, array<string, StereoBlock>}>
     */
    private function stream(Plan $plan, Window $window, PadSounds $sounds, ?array $stems, callable $progress): \Generator
    {
        $passed = 0;
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream($plan, $stems) as $moment) {
            $mix = $moment->mix->block();
            [$from, $frames] = $window->next([$mix, ...array_values($moment->stems)]);
            if ($frames > 0) {
                yield [$mix->slice($from, $frames), array_map(static fn (StereoBlock $stem): StereoBlock => $stem->slice($from, $frames), $moment->stems)];
            }
            $passed += $moment->segment->frames;
            if (!$progress(min(1.0, $passed / max(1, $plan->frames)))) {
                yield [null, []];

                return;
            }
            if ($window->isOver()) {
                return;
            }
        }
    }

    /**
     * @param callable(float): bool $progress
     *
     * @return array{float, float}|false integrated loudness and true peak of the mix; false when it was stopped
     */
    private function measured(Plan $plan, Window $window, PadSounds $sounds, callable $progress): array|false
    {
        $loudness = new LoudnessMeter(Beat::SAMPLE_RATE);
        foreach ($this->stream($plan, $window, $sounds, null, $progress) as [$mix]) {
            if (null === $mix) {
                return false;
            }
            $loudness->add($mix);
        }

        return [$loudness->integratedLufs(), $loudness->truePeakDb()];
    }
}
