<?php

namespace Pestle\Core\Apart;

/**
 * What the known ways of telling parts say about every band of a spectrum: how loud it is against the seconds around, how
 * much of it is tone, lies in the middle of stereo, comes again, and whether the lowest voice has a harmonic there.
 */
final readonly class Cues
{
    /** So much of the recording around a spectrum has a say, in spectra. */
    public const REACH = Repeats::REACH + Medians::REACH;
    public const PER_BAND = 5;
    /** What is so much softer than all around it, in dB, says no more. */
    private const SOFTEST_DB = 60.0;

    public function __construct(private Spectra $spectra)
    {
    }

    /**
     * @return array<int, list<float>> by number of the spectrum
     */
    public function between(int $from, int $to): array
    {
        $bands = $this->spectra->bands;
        $around = $levels = $middle = $tonal = $power = [];
        $first = $from - Repeats::REACH;
        $last = $to + Repeats::REACH;
        foreach ($this->spectra->between($first - Medians::REACH, $last + Medians::REACH) as $t => [$lr, $li, $rr, $ri]) {
            [$powers, $middles, $magnitudes] = self::measured($lr, $li, $rr, $ri);
            $around[] = $magnitudes;
            if (\count($around) > 2 * Medians::REACH + 1) {
                array_shift($around);
            }
            if ($t >= $first && $t < $last) {
                $sums = $bands->sums($powers);
                $power[$t] = $sums;
                $levels[$t] = array_map(sqrt(...), $sums);
                if ($t >= $from && $t < $to) {
                    $middle[$t] = $bands->sums($middles);
                }
            }
            $mid = $t - Medians::REACH;
            if ($mid >= $from && $mid < $to) {
                $tonal[$mid] = $bands->sums(self::times(Medians::tonal($around), $around[Medians::REACH]));
            }
        }
        $repeats = new Repeats($levels);
        $low = new LowVoice($bands);
        $total = array_map(array_sum(...), $power);
        $out = [];
        for ($t = $from; $t < $to; ++$t) {
            $mean = 0.0;
            for ($u = $t - Repeats::REACH; $u < $t + Repeats::REACH; ++$u) {
                $mean += $total[$u];
            }
            $level = 10.0 * log10($mean / (2 * Repeats::REACH * \count($levels[$t])) + 1e-15);
            $row = [];
            $again = $repeats->at($t);
            $comb = $low->in($levels[$t]);
            foreach ($power[$t] as $b => $p) {
                $db = 10.0 * log10($p + 1e-15) - $level;
                array_push($row, max(-self::SOFTEST_DB, $db) / 20.0, $tonal[$t][$b] / ($p + 1e-15), $middle[$t][$b] / ($p + 1e-15), $again[$b], $comb[$b]);
            }
            $out[$t] = $row;
        }

        return $out;
    }

    /**
     * @param list<float> $lr
     * @param list<float> $li
     * @param list<float> $rr
     * @param list<float> $ri
     *
     * @return array{list<float>, list<float>, list<float>} of each bin its power, that of its middle, its magnitude
     */
    private static function measured(array $lr, array $li, array $rr, array $ri): array
    {
        $middles = $magnitudes = [];
        foreach ($lr as $k => $a) {
            $b = $li[$k];
            $c = $rr[$k];
            $d = $ri[$k];
            $p = $a * $a + $b * $b + $c * $c + $d * $d;
            $lr[$k] = $p;
            $a += $c;
            $b += $d;
            $middles[] = 0.5 * ($a * $a + $b * $b);
            $magnitudes[] = sqrt($p);
        }

        return [$lr, $middles, $magnitudes];
    }

    /**
     * @param list<float> $shares
     * @param list<float> $magnitudes
     *
     * @return list<float> power of each bin that its share says
     */
    private static function times(array $shares, array $magnitudes): array
    {
        foreach ($shares as $k => $share) {
            $m = $magnitudes[$k];
            $shares[$k] = $share * $m * $m;
        }

        return $shares;
    }
}
