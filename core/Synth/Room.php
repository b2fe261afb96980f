<?php

namespace Pestle\Core\Synth;

/**
 * A small room: four delay lines that feed each other, damped.
 * Source: J.-M. Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators" (AES 1991),
 * with a Hadamard matrix.
 */
final readonly class Room
{
    private const DELAYS_MS = [13.7, 17.3, 22.9, 29.1];

    public function __construct(private int $sampleRate, private float $decaySeconds, private float $damping = 0.35)
    {
    }

    /**
     * The room alone, as long as the signal.
     *
     * @param list<float> $signal
     *
     * @return array{list<float>, list<float>} left and right
     */
    public function of(array $signal): array
    {
        [$n0, $n1, $n2, $n3] = array_map(fn (float $ms): int => (int) ($ms * $this->sampleRate / 1000), self::DELAYS_MS);
        $gain = fn (int $n): float => 10.0 ** (-3.0 * $n / ($this->decaySeconds * $this->sampleRate));
        [$g0, $g1, $g2, $g3] = [$gain($n0), $gain($n1), $gain($n2), $gain($n3)];
        [$l0, $l1, $l2, $l3] = [array_fill(0, $n0, 0.0), array_fill(0, $n1, 0.0), array_fill(0, $n2, 0.0), array_fill(0, $n3, 0.0)];
        $s0 = $s1 = $s2 = $s3 = 0.0;
        $keep = $this->damping;
        $left = $right = [];
        foreach ($signal as $i => $x) {
            $s0 = $keep * $s0 + (1.0 - $keep) * $l0[$i % $n0] * $g0;
            $s1 = $keep * $s1 + (1.0 - $keep) * $l1[$i % $n1] * $g1;
            $s2 = $keep * $s2 + (1.0 - $keep) * $l2[$i % $n2] * $g2;
            $s3 = $keep * $s3 + (1.0 - $keep) * $l3[$i % $n3] * $g3;
            $a = $s0 + $s1;
            $b = $s2 + $s3;
            $c = $s0 - $s1;
            $d = $s2 - $s3;
            $l0[$i % $n0] = $x + 0.5 * ($a + $b);
            $l1[$i % $n1] = $x + 0.5 * ($c + $d);
            $l2[$i % $n2] = -$x + 0.5 * ($a - $b);
            $l3[$i % $n3] = -$x + 0.5 * ($c - $d);
            $left[] = $s0 + $s2;
            $right[] = $s1 + $s3;
        }

        return [$left, $right];
    }
}
