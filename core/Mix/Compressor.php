<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Decibels;
use Pestle\Core\Signal\Grid;

/**
 * Feed-forward compressor with linked sides: a peak follower with attack and release, and a gain
 * that is worked out every sixteen frames and drawn straight between. It gives out the gain, not the
 * sound, so that parts of the sum can be given exactly the gain of the whole.
 * Source: Giannoulis, Massberg and Reiss, "Digital dynamic range compressor design" (JAES 2012).
 */
final readonly class Compressor
{
    public const STEP = 16;
    private float $threshold;
    private float $power;
    private float $makeup;
    private float $attack;
    private float $release;

    public function __construct(CompressorSettings $settings, float $sampleRate)
    {
        $this->threshold = Decibels::toGain($settings->thresholdDb);
        $this->power = 1.0 / $settings->ratio - 1.0;
        $this->makeup = Decibels::toGain($settings->makeupDb);
        $this->attack = 1.0 - exp(-1000.0 / ($settings->attackMs * $sampleRate));
        $this->release = 1.0 - exp(-1000.0 / ($settings->releaseMs * $sampleRate));
    }

    /** @return list<float> follower and gain at rest */
    public function rest(): array
    {
        return [0.0, $this->makeup];
    }

    /**
     * @param list<float> $state
     *
     * @return array{list<float>, list<float>} a gain for every frame, and the state after it
     */
    public function gain(StereoBlock $block, array $state): array
    {
        [$envelope, $gain] = $state;
        [$attack, $release, $threshold] = [$this->attack, $this->release, $this->threshold];
        $right = $block->right;
        $gains = [];
        $count = 0;
        $last = $block->frames() - 1;
        foreach ($block->left as $i => $l) {
            $r = $right[$i];
            $level = $l < 0.0 ? -$l : $l;
            $other = $r < 0.0 ? -$r : $r;
            if ($other > $level) {
                $level = $other;
            }
            $envelope += ($level - $envelope) * ($level > $envelope ? $attack : $release);
            ++$count;
            if (self::STEP === $count || $i === $last) {
                $target = $envelope > $threshold ? $this->makeup * ($envelope / $threshold) ** $this->power : $this->makeup;
                $slope = ($target - $gain) / $count;
                for ($k = 1; $k < $count; ++$k) {
                    $gains[] = $gain + $slope * $k;
                }
                $gains[] = $gain = $target;
                $count = 0;
            }
        }

        return [$gains, Grid::state([$envelope, $gain])];
    }
}
