<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;

/** Gains and sums of sound on the grid. Sums are exact, so their order does not matter. */
final class Gain
{
    /** @param list<float>|null $curve a gain for every frame */
    public static function curve(StereoBlock $block, ?array $curve): StereoBlock
    {
        if (null === $curve) {
            return $block;
        }
        $left = self::curved($block->left, $curve);

        return new StereoBlock($left, $block->left === $block->right ? $left : self::curved($block->right, $curve));
    }

    /** As curve() with every gain of a curve, to the bit. */
    public static function along(StereoBlock $block, GainCurve $curve): StereoBlock
    {
        $left = $curve->times($block->left);

        return new StereoBlock($left, $block->left === $block->right ? $left : $curve->times($block->right));
    }

    public static function sides(StereoBlock $block, float $gainLeft, float $gainRight): StereoBlock
    {
        if (1.0 === $gainLeft && 1.0 === $gainRight) {
            return $block;
        }
        $left = self::times($block->left, $gainLeft);

        return new StereoBlock($left, $gainLeft === $gainRight && $block->left === $block->right ? $left : self::times($block->right, $gainRight));
    }

    public static function onGrid(StereoBlock $block): StereoBlock
    {
        $left = self::times($block->left, 1.0);

        return new StereoBlock($left, $block->left === $block->right ? $left : self::times($block->right, 1.0));
    }

    /**
     * @param list<StereoBlock>              $parts of equal length
     * @param list<array{float, float}>|null $gains left and right of every part; 1 when not given
     */
    public static function sum(array $parts, int $frames, ?array $gains = null): StereoBlock
    {
        if ([] === $parts) {
            return StereoBlock::silence($frames);
        }
        $mono = true;
        $lefts = $rights = $leftGains = $rightGains = [];
        foreach ($parts as $k => $part) {
            [$leftGains[], $rightGains[]] = $gains[$k] ?? [1.0, 1.0];
            $mono = $mono && $leftGains[$k] === $rightGains[$k] && $part->left === $part->right;
            $lefts[] = $part->left;
            $rights[] = $part->right;
        }
        $left = self::added($lefts, $leftGains);

        return new StereoBlock($left, $mono ? $left : self::added($rights, $rightGains));
    }

    public static function difference(StereoBlock $a, StereoBlock $b): StereoBlock
    {
        return new StereoBlock(self::minus($a->left, $b->left), self::minus($a->right, $b->right));
    }

    /**
     * @param list<float> $signal
     * @param list<float> $curve
     *
     * @return list<float>
     */
    public static function curved(array $signal, array $curve): array
    {
        $grid = Grid::SOUND;
        foreach ($signal as $i => $x) {
            $signal[$i] = ($x * $curve[$i] + $grid) - $grid;
        }

        return $signal;
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function times(array $signal, float $gain): array
    {
        $grid = Grid::SOUND;
        foreach ($signal as $i => $x) {
            $signal[$i] = ($x * $gain + $grid) - $grid;
        }

        return $signal;
    }

    /**
     * Six at a time: reading is cheap, writing is not.
     *
     * @param non-empty-list<list<float>> $signals
     * @param non-empty-list<float>       $gains
     *
     * @return list<float>
     */
    private static function added(array $signals, array $gains): array
    {
        $grid = Grid::SOUND;
        $sum = $signals[0];
        $first = $gains[0];
        $n = \count($signals);
        for ($at = 1; $at + 4 < $n; $at += 5) {
            [$b, $c, $d, $e, $f] = \array_slice($signals, $at, 5);
            [$g, $h, $k, $l, $m] = \array_slice($gains, $at, 5);
            foreach ($sum as $i => $x) {
                $sum[$i] = (($x * $first + $grid) - $grid) + (($b[$i] * $g + $grid) - $grid) + (($c[$i] * $h + $grid) - $grid)
                    + (($d[$i] * $k + $grid) - $grid) + (($e[$i] * $l + $grid) - $grid) + (($f[$i] * $m + $grid) - $grid);
            }
            $first = 1.0;
        }
        for (; $at < $n; ++$at) {
            $b = $signals[$at];
            $g = $gains[$at];
            foreach ($sum as $i => $x) {
                $sum[$i] = (($x * $first + $grid) - $grid) + (($b[$i] * $g + $grid) - $grid);
            }
            $first = 1.0;
        }

        return 1.0 === $first ? $sum : self::times($sum, $first);
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     *
     * @return list<float>
     */
    private static function minus(array $a, array $b): array
    {
        foreach ($a as $i => $x) {
            $a[$i] = $x - $b[$i];
        }

        return $a;
    }
}
