<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Grid;

/**
 * Second-order sections in series over both sides, two at a time in one loop
 * (transposed direct form II). Without sections it passes its input through.
 */
final readonly class Equalizer
{
    /** @param list<Biquad> $sections */
    private function __construct(public array $sections)
    {
    }

    /** @param list<EqBand> $bands */
    public static function of(array $bands, float $sampleRate): self
    {
        $active = array_filter($bands, static fn (EqBand $band): bool => $band->isActive());

        return new self(array_values(array_map(static fn (EqBand $band): Biquad => $band->biquad($sampleRate), $active)));
    }

    /** All but the last two sections: those run inside the compressor where there is one. */
    public function withoutLastTwo(): self
    {
        return new self(\array_slice($this->sections, 0, max(0, \count($this->sections) - 2)));
    }

    public function isActive(): bool
    {
        return [] !== $this->sections;
    }

    /** @return list<float> state at rest */
    public function rest(): array
    {
        return array_fill(0, 4 * \count($this->sections), 0.0);
    }

    /**
     * @param list<float> $state four values a section: left s1 s2, right s1 s2
     *
     * @return array{StereoBlock, list<float>} the sound and the state after it
     */
    public function process(StereoBlock $block, array $state): array
    {
        [$left, $right] = [$block->left, $block->right];
        $next = [];
        for ($i = 0, $n = \count($this->sections); $i < $n; $i += 2) {
            $a = $this->sections[$i];
            $s = \array_slice($state, 4 * $i, 8);
            $same = $left === $right && $s[0] === $s[2] && $s[1] === $s[3];
            if (isset($this->sections[$i + 1])) {
                $b = $this->sections[$i + 1];
                $same = $same && $s[4] === $s[6] && $s[5] === $s[7];
                [$left, $l] = self::two($a, $b, $left, [$s[0], $s[1], $s[4], $s[5]]);
                [$right, $r] = $same ? [$left, $l] : self::two($a, $b, $right, [$s[2], $s[3], $s[6], $s[7]]);
                array_push($next, $l[0], $l[1], $r[0], $r[1], $l[2], $l[3], $r[2], $r[3]);
            } else {
                [$left, $l] = self::one($a, $left, [$s[0], $s[1]]);
                [$right, $r] = $same ? [$left, $l] : self::one($a, $right, [$s[2], $s[3]]);
                array_push($next, $l[0], $l[1], $r[0], $r[1]);
            }
        }

        return [new StereoBlock($left, $right), Grid::state($next)];
    }

    /**
     * @param list<float>         $signal
     * @param array{float, float} $s
     *
     * @return array{list<float>, array{float, float}}
     */
    private static function one(Biquad $a, array $signal, array $s): array
    {
        [$b0, $b1, $b2, $a1, $a2] = [$a->b0, $a->b1, $a->b2, $a->a1, $a->a2];
        [$s1, $s2] = $s;
        foreach ($signal as $i => $x) {
            $y = $b0 * $x + $s1;
            $s1 = $s2 + $b1 * $x - $a1 * $y;
            $s2 = $b2 * $x - $a2 * $y;
            $signal[$i] = $y;
        }

        return [$signal, [$s1, $s2]];
    }

    /**
     * @param list<float>                       $signal
     * @param array{float, float, float, float} $s
     *
     * @return array{list<float>, array{float, float, float, float}}
     */
    private static function two(Biquad $a, Biquad $b, array $signal, array $s): array
    {
        [$b0, $b1, $b2, $a1, $a2] = [$a->b0, $a->b1, $a->b2, $a->a1, $a->a2];
        [$d0, $d1, $d2, $c1, $c2] = [$b->b0, $b->b1, $b->b2, $b->a1, $b->a2];
        [$s1, $s2, $t1, $t2] = $s;
        foreach ($signal as $i => $x) {
            $y = $b0 * $x + $s1;
            $s1 = $s2 + $b1 * $x - $a1 * $y;
            $s2 = $b2 * $x - $a2 * $y;
            $z = $d0 * $y + $t1;
            $t1 = $t2 + $d1 * $y - $c1 * $z;
            $t2 = $d2 * $y - $c2 * $z;
            $signal[$i] = $z;
        }

        return [$signal, [$s1, $s2, $t1, $t2]];
    }
}
