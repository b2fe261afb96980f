<?php

namespace Pestle\Core\Render;

/**
 * Pitches a voice moves to one after another while it sounds: at a frame it sets out from where it is, and arrives,
 * evenly in cents, after so many frames.
 */
final readonly class Slides
{
    /** A jump in pitch takes this long at least, so that it is no click: 4 ms. */
    public const LEAST_FRAMES = 176;

    public string $signature;
    /** @var list<float> cents at which each sets out */
    private array $from;
    /** Furthest it gets above where it began, in cents. */
    public float $highest;

    /** @param non-empty-list<array{int, float}> $targets frame and cents against where the voice began, in order of time */
    public function __construct(public array $targets, private int $frames)
    {
        $from = [];
        $cents = 0.0;
        foreach ($targets as $i => [$frame, $target]) {
            $from[] = $cents;
            $next = $targets[$i + 1][0] ?? \PHP_INT_MAX;
            $cents += ($target - $cents) * min(1.0, ($next - $frame) / $frames);
        }
        $this->from = $from;
        $this->highest = max(0.0, ...array_column($targets, 1));
        $this->signature = implode(' ', ['slides', $frames, ...array_map(static fn (array $t): string => implode(' ', $t), $targets)]);
    }

    /** Cents at a frame of the voice, against where it began. */
    public function at(float $frame): float
    {
        for ($i = \count($this->targets) - 1; $i >= 0; --$i) {
            [$at, $target] = $this->targets[$i];
            if ($frame >= $at) {
                return $this->from[$i] + ($target - $this->from[$i]) * min(1.0, ($frame - $at) / $this->frames);
            }
        }

        return 0.0;
    }

    public function and(int $frame, float $cents): self
    {
        return new self([...$this->targets, [$frame, $cents]], $this->frames);
    }
}
