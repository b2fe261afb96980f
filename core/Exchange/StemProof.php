<?php

namespace Pestle\Core\Exchange;

use Pestle\Core\Audio\NoiseShaping;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Signal\Peak;

/** Reads delivered files back and compares the mix with the sum of the stems. */
final readonly class StemProof
{
    /** @param float $largest largest difference, in steps of the file's format (2^-23 for float) */
    private function __construct(public int $stems, public float $largest, public float $allowed)
    {
    }

    /** @param list<string> $paths the mix, then the stems, as they were ordered */
    public static function of(array $paths, DeliveryOrder $order): self
    {
        $files = array_map(static fn (string $path) => SoundFile::open($path), $paths);
        $largest = 0.0;
        for ($at = 0, $frames = ($files[0] ?? null)?->frames() ?? 0; $at < $frames; $at += 16384) {
            $count = min(16384, $frames - $at);
            $rest = null;
            foreach ($files as $file) {
                $block = $file->read($at, $count);
                if (null === $rest) {
                    $rest = [$block->left, $block->right];
                    continue;
                }
                foreach ([$block->left, $block->right] as $side => $values) {
                    foreach ($values as $i => $x) {
                        $rest[$side][$i] -= $x;
                    }
                }
            }
            foreach ($rest as $side) {
                $largest = max($largest, Peak::of($side));
            }
        }
        $steps = SampleFormat::Int16 === $order->format ? 32768.0 : 8388608.0;
        $stems = \count($paths) - 1;
        // Every file is rounded once: half a step each, one and a half with dither, by its shape several times as much. Without rounding nothing may differ.
        $resampled = Beat::SAMPLE_RATE !== $order->rate;
        $rounding = match (true) {
            SampleFormat::Float32 === $order->format => $resampled ? 0.5 : 0.0,
            $order->shaped => 1.5 * (1.0 + array_sum(array_map(abs(...), NoiseShaping::TAPS))),
            $order->dither => 1.5,
            SampleFormat::Int24 === $order->format => $resampled ? 0.5 : 0.0,
            default => 0.5,
        };
        // Made louder or quieter, each is rounded to the grid of 24 bits as well.
        $lowering = 0 !== $order->lowerDb || LevelKind::AsMixed !== $order->level->kind ? 0.5 * $steps / 8388608.0 : 0.0;
        $allowed = ($rounding + $lowering) * ($stems + 1);

        return new self($stems, $largest * $steps, $allowed);
    }

    public function holds(): bool
    {
        return $this->largest <= $this->allowed + 1e-6;
    }

    public function sentence(): string
    {
        return match (true) {
            0.0 === $this->largest => \sprintf('The %s up to the mix exactly.', $this->said()),
            $this->holds() => \sprintf('The %s up to the mix within %.1f steps (rounding and dither allow %.1f).', $this->said(), $this->largest, $this->allowed),
            default => \sprintf('The %d stems differ from the mix by up to %.1f steps; %.1f would be rounding.', $this->stems, $this->largest, $this->allowed),
        };
    }

    private function said(): string
    {
        return 1 === $this->stems ? '1 stem adds' : $this->stems.' stems add';
    }
}
