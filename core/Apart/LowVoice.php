<?php

namespace Pestle\Core\Apart;

/**
 * Where the lowest voice lies: the pitch whose harmonics add up to the most, and the bands they fall into.
 * Source: A. Klapuri, "Multiple fundamental frequency estimation by summing harmonic amplitudes" (ISMIR 2006).
 */
final readonly class LowVoice
{
    private const LOWEST_HZ = 32.0;
    private const HIGHEST_HZ = 260.0;
    private const HARMONICS = 8;

    /** @var list<list<array{int, float}>> of each pitch its harmonics: band, weight */
    private array $combs;

    public function __construct(Bands $bands)
    {
        $combs = [];
        for ($hz = self::LOWEST_HZ; $hz < self::HIGHEST_HZ; $hz *= 2.0 ** (1 / 24)) {
            $comb = [];
            for ($h = 1; $h <= self::HARMONICS; ++$h) {
                $nearest = 0;
                foreach ($bands->middles as $b => $middle) {
                    $nearest = abs($middle - $h * $hz) < abs($bands->middles[$nearest] - $h * $hz) ? $b : $nearest;
                }
                $comb[] = [$nearest, ($hz + 27.0) / ($h * $hz + 320.0)];
            }
            $combs[] = $comb;
        }
        $this->combs = $combs;
    }

    /**
     * @param list<float> $levels magnitude of each band
     *
     * @return list<float> of each band, whether a harmonic of the lowest voice falls there, 0 to 1 by how plainly it is heard
     */
    public function in(array $levels): array
    {
        $best = $sum = 0.0;
        $found = null;
        foreach ($this->combs as $i => $comb) {
            $salience = 0.0;
            foreach ($comb as [$b, $weight]) {
                $salience += $weight * sqrt($levels[$b]);
            }
            $sum += $salience;
            if ($salience > $best) {
                $best = $salience;
                $found = $i;
            }
        }
        $out = array_fill(0, \count($levels), 0.0);
        $plain = $sum > 0.0 ? min(1.0, $best * \count($this->combs) / $sum / 3.0) : 0.0;
        foreach (null === $found ? [] : $this->combs[$found] as [$b, $weight]) {
            $out[$b] = $plain;
        }

        return array_values($out);
    }
}
