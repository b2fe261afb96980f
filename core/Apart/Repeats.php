<?php

namespace Pestle\Core\Apart;

/**
 * What comes again: of each spectrum the most similar ones around it are found, and what their median has too repeats.
 * Source: Z. Rafii and B. Pardo, "Online REPET-SIM for real-time speech enhancement" (ICASSP 2013).
 */
final class Repeats
{
    /** How far around a spectrum others are looked for, in spectra: about four seconds. */
    public const REACH = 172;
    /** What lies nearer is the same sound still. */
    private const NEAREST = 12;
    private const MOST = 7;

    /** @var array<int, list<float>> of length 1 */
    private array $directions = [];

    /** @param array<int, list<float>> $levels magnitudes in bands by number of their spectrum */
    public function __construct(private readonly array $levels)
    {
        foreach ($levels as $t => $level) {
            $square = 1e-18;
            foreach ($level as $x) {
                $square += $x * $x;
            }
            $scale = 1.0 / sqrt($square);
            foreach ($level as $b => $x) {
                $level[$b] = $x * $scale;
            }
            $this->directions[$t] = $level;
        }
    }

    /** @return list<float> of each band, how much of its magnitude comes again, 0 to 1 */
    public function at(int $t): array
    {
        $own = $this->directions[$t];
        $like = [];
        for ($u = $t - self::REACH; $u <= $t + self::REACH; ++$u) {
            $other = $this->directions[$u] ?? null;
            if (null === $other || ($u > $t - self::NEAREST && $u < $t + self::NEAREST)) {
                continue;
            }
            $sum = 0.0;
            foreach ($own as $b => $x) {
                $sum += $x * $other[$b];
            }
            $like[$u] = $sum;
        }
        arsort($like);
        $similar = array_map(fn (int $u): array => $this->levels[$u], \array_slice(array_keys($like), 0, self::MOST));
        $out = [];
        foreach ($this->levels[$t] as $b => $level) {
            $values = array_column($similar, $b);
            sort($values);
            $again = $values[intdiv(\count($values), 2)] ?? 0.0;
            $out[] = $again < $level ? $again / $level : 1.0;
        }

        return $out;
    }
}
