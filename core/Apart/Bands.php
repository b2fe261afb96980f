<?php

namespace Pestle\Core\Apart;

/**
 * Bands of the spectrum that overlap as triangles: 11 Hz apart where notes of a bass lie, a semitone from there on. Numbers
 * of bands hold for every sample rate.
 */
final readonly class Bands
{
    private const LOWEST_HZ = 21.5;
    private const LEAST_HZ = 10.77;
    private const SHARE = 0.06;
    private const HIGHEST_HZ = 16_000.0;

    /** @var non-empty-list<float> middle of each in Hz */
    public array $middles;
    /** @var list<int> the lower of the two bands each bin of a spectrum lies in */
    private array $lower;
    /** @var list<float> how far towards the upper one */
    private array $towards;

    /** @param float $binHz how far bins of the spectrum lie apart */
    public function __construct(float $binHz, public int $bins)
    {
        $middles = [$hz = self::LOWEST_HZ];
        while (($hz += max(self::LEAST_HZ, self::SHARE * $hz)) < self::HIGHEST_HZ) {
            $middles[] = $hz;
        }
        $lower = $towards = [];
        for ($k = 0, $b = 0, $last = \count($middles) - 1; $k < $bins; ++$k) {
            $hz = $k * $binHz;
            while ($b < $last - 1 && $hz >= $middles[$b + 1]) {
                ++$b;
            }
            $lower[] = $b;
            $towards[] = max(0.0, min(1.0, ($hz - $middles[$b]) / ($middles[$b + 1] - $middles[$b])));
        }
        $this->middles = $middles;
        $this->lower = $lower;
        $this->towards = $towards;
    }

    public static function count(): int
    {
        return \count((new self(1.0, 0))->middles);
    }

    /**
     * @param list<float> $values of each bin
     *
     * @return list<float> their sum in each band
     */
    public function sums(array $values): array
    {
        $out = array_fill(0, \count($this->middles), 0.0);
        $lower = $this->lower;
        foreach ($this->towards as $k => $share) {
            $b = $lower[$k];
            $v = $values[$k];
            $out[$b] += (1.0 - $share) * $v;
            $out[$b + 1] += $share * $v;
        }

        return array_values($out);
    }

    /**
     * @param list<float> $values of each band
     *
     * @return list<float> of each bin, straight from band to band
     */
    public function spread(array $values): array
    {
        $lower = $this->lower;
        $out = [];
        foreach ($this->towards as $k => $share) {
            $b = $lower[$k];
            $low = $values[$b];
            $out[] = $low + $share * ($values[$b + 1] - $low);
        }

        return $out;
    }
}
