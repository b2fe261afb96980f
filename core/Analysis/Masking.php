<?php

namespace Pestle\Core\Analysis;

/**
 * How much of a sound is covered by another that plays at the same time: what of it lies below the level up to which the
 * other masks its neighbourhood, weighed by how loud it is there by itself. Masking spreads by 25 dB a Bark downwards and
 * 10 dB upwards from 6 dB below the masker. Sources: Schroeder, Atal and Hall, "Optimizing digital speech coders by
 * exploiting masking properties of the human ear" (JASA 1979), for the slopes; H. Traunmüller (JASA 1990) for Bark; of what is
 * loud in a band the fourth root of its power (E. Zwicker, "Psychoacoustics").
 */
final class Masking
{
    private const DOWN_DB = 25.0;
    private const UP_DB = 10.0;
    private const BELOW_DB = 6.0;
    /** What is as far below the loudest of a sound does not matter to it. */
    private const MATTERS_DB = 35.0;
    private const SILENT = 1e-8;

    /** @var array<int, array<int, float>> share of a band's power that masks in another */
    private array $spread = [];

    public function __construct()
    {
        for ($from = 0; $from < BandLevels::BANDS; ++$from) {
            for ($to = 0; $to < BandLevels::BANDS; ++$to) {
                $bark = self::bark(BandLevels::hz($to)) - self::bark(BandLevels::hz($from));
                $db = -self::BELOW_DB - ($bark < 0.0 ? -self::DOWN_DB * $bark : self::UP_DB * $bark);
                if ($db > -60.0) {
                    $this->spread[$from][$to] = 10.0 ** ($db / 10.0);
                }
            }
        }
    }

    /**
     * @param list<list<float>> $sound  powers of bands, moment after moment
     * @param list<list<float>> $masker at the same moments
     *
     * @return array{float, list<float>} share of the sound that is covered, 0 to 1, and how much of that lies in each band
     */
    public function covered(array $sound, array $masker): array
    {
        $loudest = max([0.0, ...array_map(static fn (array $bands): float => max([0.0, ...$bands]), $sound)]);
        $matters = max(self::SILENT, $loudest * 10.0 ** (-self::MATTERS_DB / 10.0));
        $all = 0.0;
        $covered = array_fill(0, BandLevels::BANDS, 0.0);
        foreach ($sound as $t => $own) {
            $threshold = null;
            foreach ($own as $b => $power) {
                if ($power < $matters) {
                    continue;
                }
                $threshold ??= $this->threshold($masker[$t] ?? []);
                $weight = $power ** 0.25;
                $all += $weight;
                if ($threshold[$b] > $power) {
                    $covered[$b] += $weight;
                }
            }
        }

        $shares = array_map(static fn (float $weight): float => $weight / max(1e-12, $all), array_values($covered));

        return [array_sum($shares), $shares];
    }

    /**
     * @param list<float> $masker
     *
     * @return list<float>
     */
    private function threshold(array $masker): array
    {
        $threshold = array_fill(0, BandLevels::BANDS, 0.0);
        foreach ($masker as $from => $power) {
            if ($power > self::SILENT) {
                foreach ($this->spread[$from] as $to => $share) {
                    $threshold[$to] += $power * $share;
                }
            }
        }

        return array_values($threshold);
    }

    private static function bark(float $hz): float
    {
        return 26.81 * $hz / (1960.0 + $hz) - 0.53;
    }
}
