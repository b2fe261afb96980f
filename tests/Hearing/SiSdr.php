<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\StereoBlock;

/**
 * How much of a part there is in what is held to be it, against all else, in dB; how loud either is does not count.
 * Source: J. Le Roux et al., "SDR – half-baked or well done?" (ICASSP 2019).
 */
final class SiSdr
{
    public static function of(StereoBlock $part, StereoBlock $heldToBeIt): float
    {
        $own = $both = $held = 1e-15;
        foreach ([[$part->left, $heldToBeIt->left], [$part->right, $heldToBeIt->right]] as [$a, $b]) {
            foreach ($a as $i => $x) {
                $y = $b[$i];
                $own += $x * $x;
                $both += $x * $y;
                $held += $y * $y;
            }
        }
        $like = $both * $both / $own;

        return 10.0 * log10($like / max(1e-15, $held - $like));
    }
}
