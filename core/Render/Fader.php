<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\GainCurve;
use Pestle\Core\Signal\Decibels;

/** Level and place of a sound over a segment: fixed, or moving in straight lines every GainCurve::STEP frames. */
final readonly class Fader
{
    public string $signature;

    private function __construct(public float $left, public float $right, private ?GainCurve $lefts = null, private ?GainCurve $rights = null, string $moves = '')
    {
        $this->signature = $left.' '.$right.$moves;
    }

    public static function open(): self
    {
        return new self(1.0, 1.0);
    }

    public static function at(float $gainDb, float $pan = 0.0): self
    {
        [$left, $right] = self::gains($gainDb, $pan);

        return new self($left, $right);
    }

    /**
     * @param non-empty-list<float> $gainsDb at every step, and one more for the end
     * @param non-empty-list<float> $pans    likewise
     */
    public static function moving(array $gainsDb, array $pans): self
    {
        $lefts = $rights = [];
        foreach ($gainsDb as $k => $gainDb) {
            [$lefts[], $rights[]] = self::gains($gainDb, $pans[$k]);
        }

        return new self($lefts[0], $rights[0], new GainCurve($lefts[0], \array_slice($lefts, 1)), new GainCurve($rights[0], \array_slice($rights, 1)), ' '.hash('xxh128', pack('e*', ...$lefts, ...$rights)));
    }

    /** Whether it stays as it is: then left and right say it all. */
    public function isFixed(): bool
    {
        return null === $this->lefts;
    }

    public function apply(StereoBlock $block): StereoBlock
    {
        if (null === $this->lefts || null === $this->rights) {
            return Gain::sides($block, $this->left, $this->right);
        }
        $left = $this->lefts->times($block->left);

        return new StereoBlock($left, $block->left === $block->right && $this->left === $this->right && $this->lefts == $this->rights ? $left : $this->rights->times($block->right));
    }

    /** @return array{float, float} */
    private static function gains(float $gainDb, float $pan): array
    {
        $gain = Decibels::toGain($gainDb);
        [$left, $right] = Panning::gains($pan);

        return [$gain * $left, $gain * $right];
    }
}
