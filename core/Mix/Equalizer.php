<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\BiquadPair;
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
            $s = array_pad(\array_slice($state, 4 * $i, 8), 8, 0.0);
            [$a, $b] = [$this->sections[$i], $this->sections[$i + 1] ?? Biquad::through()];
            [$forLeft, $forRight] = [[$s[0], $s[1], $s[4], $s[5]], [$s[2], $s[3], $s[6], $s[7]]];
            $same = $left === $right && $forLeft === $forRight;
            [$left, $l] = BiquadPair::filter($left, $a, $b, $forLeft);
            [$right, $r] = $same ? [$left, $l] : BiquadPair::filter($right, $a, $b, $forRight);
            array_push($next, $l[0], $l[1], $r[0], $r[1], $l[2], $l[3], $r[2], $r[3]);
        }
        $next = \array_slice($next, 0, \count($state));

        return [new StereoBlock($left, $right), Grid::state($next)];
    }
}
