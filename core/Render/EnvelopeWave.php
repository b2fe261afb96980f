<?php

namespace Pestle\Core\Render;

use Pestle\Core\Kit\FreeEnvelope;
use Pestle\Core\Signal\Bend;
use Pestle\Core\Signal\StateVariable;

/** The second envelope of a sound as it is over a voice. */
final readonly class EnvelopeWave implements Swaying
{
    private string $signature;
    /** @var list<array{int, float, float}> frames, start and end of each stage */
    private array $stages;

    /** @param int|null $held frames until the voice is let go */
    public function __construct(private FreeEnvelope $envelope, private ?int $held)
    {
        $this->stages = [
            [Contour::frames($envelope->delayMs), 0.0, 0.0],
            [Contour::frames($envelope->attackMs), 0.0, 1.0],
            [Contour::frames($envelope->holdMs), 1.0, 1.0],
            [Contour::frames($envelope->decayMs), 1.0, $envelope->sustain],
        ];
        $this->signature = implode(' ', ['envelope', $envelope->target->value, $envelope->depth, ...array_column($this->stages, 0), $envelope->sustain, $envelope->bend, ...$envelope->releaseMs > 0.0 ? [$envelope->releaseMs, $held] : []]);
    }

    public function name(): string
    {
        return $this->signature;
    }

    public function highest(): float
    {
        return max(0.0, $this->envelope->depth);
    }

    public function values(int $step, int $count): array
    {
        $values = [];
        for ($k = $step; $k < $step + $count; ++$k) {
            $values[] = $this->envelope->depth * $this->share(max(0, $k * StateVariable::STEP));
        }

        return $values;
    }

    private function share(int $frame): float
    {
        if (null === $this->held || $this->envelope->releaseMs <= 0.0 || $frame <= $this->held) {
            return $this->while($frame);
        }

        return $this->while($this->held) * (1.0 - Bend::at(min(1.0, ($frame - $this->held) / max(1, Contour::frames($this->envelope->releaseMs))), $this->envelope->bend));
    }

    /** As it is while the voice is held. */
    private function while(int $frame): float
    {
        foreach ($this->stages as [$frames, $from, $to]) {
            if ($frame < $frames) {
                return $from + ($to - $from) * Bend::at($frame / $frames, $this->envelope->bend);
            }
            $frame -= $frames;
        }

        return $this->envelope->sustain;
    }
}
