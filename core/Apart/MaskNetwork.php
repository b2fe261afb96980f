<?php

namespace Pestle\Core\Apart;

/**
 * Weighs the cues: of each band of each spectrum, which part owns how much of it. A layer reads a spectrum's cues, four more
 * look ever further to both sides in time, each adding to what the one before found; a softmax shares every band out.
 * Numbers come from `bin/hearing fit-apart`.
 * Source: F. Yu and V. Koltun, "Multi-scale context aggregation by dilated convolutions" (ICLR 2016); K. He et al., "Deep
 * residual learning for image recognition" (CVPR 2016).
 */
final readonly class MaskNetwork
{
    /** How far each layer looks to both sides, in spectra. */
    public const STEPS = [1, 3, 9, 27];
    /** And all together. */
    public const REACH = 40;
    /** Cues further out than so many deviations say no more. */
    public const CLIP = 4.0;
    /** Spectra that are worked out side by side, so that a weight is read once for them. */
    private const TOGETHER = 4;

    /**
     * @param list<float>             $mean      of each cue
     * @param list<float>             $deviation
     * @param list<list<list<float>>> $layers    rows of weights, one for each output, its bias last; those between first and
     *                                           last hold the weights for before, now and after in turn
     */
    public function __construct(private array $mean, private array $deviation, private array $layers)
    {
    }

    /** From what `bin/hearing fit-apart` keeps: sizes, means, deviations; of each row its step, its bias and whole numbers of steps. */
    public static function read(string $path): self
    {
        $bytes = (string) file_get_contents($path);
        /** @var array{cues: int, layers: list<array{int, int}>} $sizes rows and columns */
        $sizes = json_decode(strstr($bytes, "\n", true) ?: '', true, 8, \JSON_THROW_ON_ERROR);
        $at = (int) strpos($bytes, "\n") + 1;
        $floats = static function (int $count) use ($bytes, &$at): array {
            /** @var list<float> $values */
            $values = array_values(unpack('g'.$count, $bytes, $at) ?: []);
            $at += 4 * $count;

            return $values;
        };
        $mean = $floats($sizes['cues']);
        $deviation = $floats($sizes['cues']);
        $layers = [];
        foreach ($sizes['layers'] as [$rows, $columns]) {
            $layer = [];
            for ($r = 0; $r < $rows; ++$r) {
                [$step, $bias] = $floats(2);
                /** @var list<int> $whole */
                $whole = array_values(unpack('c'.$columns, $bytes, $at) ?: []);
                $at += $columns;
                $layer[] = [...array_map(static fn (int $w): float => $step * $w, $whole), $bias];
            }
            $layers[] = $layer;
        }

        return new self($mean, $deviation, $layers);
    }

    /**
     * @param array<int, list<float>> $cues of spectra that follow one another, by their number; what is missing around them
     *                                      lies outside the recording
     *
     * @return array<int, list<list<float>>> by the same number, for each part its share of each band
     */
    public function shares(array $cues): array
    {
        $first = (int) array_key_first($cues);
        $rows = array_map($this->normalised(...), array_values($cues));
        $last = \count($this->layers) - 1;
        $hidden = self::positive(self::layer($this->layers[0], $rows));
        foreach (self::STEPS as $i => $step) {
            $none = array_fill(0, \count($hidden[0]), 0.0);
            $wide = [];
            foreach ($hidden as $t => $row) {
                $wide[] = [...$hidden[$t - $step] ?? $none, ...$row, ...$hidden[$t + $step] ?? $none];
            }
            $hidden = self::sums($hidden, self::positive(self::layer($this->layers[1 + $i], $wide)));
        }
        $out = [];
        foreach (self::layer($this->layers[$last], $hidden) as $t => $row) {
            $out[$first + $t] = self::shared($row);
        }

        return $out;
    }

    /**
     * @param list<float> $cues
     *
     * @return list<float>
     */
    private function normalised(array $cues): array
    {
        foreach ($cues as $i => $cue) {
            $cue = ($cue - $this->mean[$i]) / $this->deviation[$i];
            $cues[$i] = $cue > self::CLIP ? self::CLIP : ($cue < -self::CLIP ? -self::CLIP : $cue);
        }

        return $cues;
    }

    /**
     * @param list<list<float>> $weights
     * @param list<list<float>> $rows
     *
     * @return list<list<float>>
     */
    private static function layer(array $weights, array $rows): array
    {
        $out = [];
        $count = \count($rows);
        $columns = \count($rows[0]);
        for ($t = 0; $t < $count; $t += self::TOGETHER) {
            $a = $rows[$t];
            $b = $rows[$t + 1] ?? $a;
            $c = $rows[$t + 2] ?? $a;
            $d = $rows[$t + 3] ?? $a;
            $as = $bs = $cs = $ds = [];
            foreach ($weights as $row) {
                $p = $q = $r = $s = $row[$columns];
                foreach ($a as $i => $x) {
                    $w = $row[$i];
                    $p += $w * $x;
                    $q += $w * $b[$i];
                    $r += $w * $c[$i];
                    $s += $w * $d[$i];
                }
                $as[] = $p;
                $bs[] = $q;
                $cs[] = $r;
                $ds[] = $s;
            }
            array_push($out, $as, $bs, $cs, $ds);
        }

        return \array_slice($out, 0, $count);
    }

    /**
     * @param list<list<float>> $rows
     * @param list<list<float>> $more
     *
     * @return list<list<float>>
     */
    private static function sums(array $rows, array $more): array
    {
        foreach ($rows as $t => $row) {
            foreach ($more[$t] as $j => $x) {
                $row[$j] += $x;
            }
            $rows[$t] = array_values($row);
        }

        return $rows;
    }

    /**
     * @param list<list<float>> $rows
     *
     * @return list<list<float>>
     */
    private static function positive(array $rows): array
    {
        foreach ($rows as $t => $row) {
            foreach ($row as $i => $x) {
                $row[$i] = $x > 0.0 ? $x : 0.0;
            }
            $rows[$t] = $row;
        }

        return $rows;
    }

    /**
     * @param list<float> $row scores of the first part in each band, then those of the next
     *
     * @return list<list<float>>
     */
    private static function shared(array $row): array
    {
        $bands = intdiv(\count($row), \count(RecordingPart::cases()));
        $p = $q = $r = $s = [];
        for ($b = 0; $b < $bands; ++$b) {
            $a = exp($row[$b]);
            $c = exp($row[$bands + $b]);
            $d = exp($row[2 * $bands + $b]);
            $e = exp($row[3 * $bands + $b]);
            $sum = 1.0 / ($a + $c + $d + $e);
            $p[] = $a * $sum;
            $q[] = $c * $sum;
            $r[] = $d * $sum;
            $s[] = $e * $sum;
        }

        return [$p, $q, $r, $s];
    }
}
