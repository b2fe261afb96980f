<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\HitModel;

/**
 * Fits the network that names hits: cross entropy, mini-batches, weight decay, and noise on what goes in, so that it
 * does not learn single recordings by heart.
 * Source: D. P. Kingma and J. Ba, "Adam" (ICLR 2015).
 */
final class NetworkTrainer
{
    private const UNITS = 24;
    private const BATCH = 128;
    private const DECAY = 0.001;
    private const NOISE = 0.2;
    private const SEED = 7;

    /**
     * @param list<list<float>> $features
     * @param list<int>         $kinds    index into HitModel::KINDS
     *
     * @return array{mean: list<float>, deviation: list<float>, hidden: list<list<float>>, output: list<list<float>>}
     */
    public static function fit(array $features, array $kinds, int $rounds = 40): array
    {
        mt_srand(self::SEED);
        [$mean, $deviation, $inputs] = self::normalised($features);
        $n = \count($mean);
        $outs = \count(HitModel::KINDS);
        $hidden = self::random(self::UNITS, $n + 1);
        $output = self::random($outs, self::UNITS + 1);
        $counts = array_count_values($kinds) + array_fill(0, $outs, 0);
        $importance = array_map(static fn (int $count): float => 1.0 / sqrt($count + 20.0), $counts);
        $average = array_sum(array_map(static fn (int $kind): float => $importance[$kind], $kinds)) / \count($kinds);
        $first = new Adam();
        $second = new Adam();
        $order = range(0, \count($kinds) - 1);
        for ($round = 0; $round < $rounds; ++$round) {
            $rate = 0.01 * (1.0 - $round / $rounds) + 0.0002;
            shuffle($order);
            foreach (array_chunk($order, self::BATCH) as $batch) {
                $g1 = array_fill(0, self::UNITS, array_fill(0, $n + 1, 0.0));
                $g2 = array_fill(0, $outs, array_fill(0, self::UNITS + 1, 0.0));
                foreach ($batch as $k) {
                    $in = $inputs[$k];
                    foreach ($in as $i => $x) {
                        $in[$i] = $x + self::NOISE * self::normal();
                    }
                    $in[] = 1.0;
                    $h = [];
                    foreach ($hidden as $row) {
                        $sum = 0.0;
                        foreach ($in as $i => $x) {
                            $sum += $row[$i] * $x;
                        }
                        $h[] = tanh($sum);
                    }
                    $h[] = 1.0;
                    $p = self::softmax($output, $h);
                    $weight = $importance[$kinds[$k]] / $average / \count($batch);
                    $back = array_fill(0, self::UNITS, 0.0);
                    foreach ($p as $o => $value) {
                        $d = ($value - ($o === $kinds[$k] ? 1.0 : 0.0)) * $weight;
                        foreach ($h as $u => $x) {
                            $g2[$o][$u] += $d * $x;
                        }
                        foreach ($back as $u => $b) {
                            $back[$u] = $b + $d * $output[$o][$u];
                        }
                    }
                    foreach ($back as $u => $b) {
                        $b *= 1.0 - $h[$u] * $h[$u];
                        $row = $g1[$u];
                        foreach ($in as $i => $x) {
                            $row[$i] += $b * $x;
                        }
                        $g1[$u] = $row;
                    }
                }
                $hidden = $first->step($hidden, $g1, $rate, self::DECAY);
                $output = $second->step($output, $g2, $rate, self::DECAY);
            }
        }

        return ['mean' => self::rounded($mean), 'deviation' => self::rounded($deviation), 'hidden' => array_map(self::rounded(...), $hidden), 'output' => array_map(self::rounded(...), $output)];
    }

    /**
     * @param list<list<float>> $features
     *
     * @return array{list<float>, list<float>, list<list<float>>}
     */
    private static function normalised(array $features): array
    {
        $mean = $deviation = [];
        $count = \count($features);
        foreach (array_keys($features[0]) as $i) {
            $column = array_column($features, $i);
            $mean[$i] = array_sum($column) / $count;
            $deviation[$i] = sqrt(array_sum(array_map(static fn (float $x): float => ($x - $mean[$i]) ** 2, $column)) / $count) + 1e-9;
        }
        foreach ($features as $k => $row) {
            foreach ($row as $i => $x) {
                $features[$k][$i] = max(-HitModel::CLIP, min(HitModel::CLIP, ($x - $mean[$i]) / $deviation[$i]));
            }
        }

        return [array_values($mean), array_values($deviation), $features];
    }

    /** @return list<list<float>> */
    private static function random(int $rows, int $columns): array
    {
        return array_map(static fn (): array => array_map(static fn (): float => 0.2 * self::normal(), range(1, $columns)), range(1, $rows));
    }

    private static function normal(): float
    {
        return mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 + mt_rand(1, 1000000) / 1e6 - 2.0;
    }

    /**
     * @param list<list<float>> $output
     * @param list<float>       $h
     *
     * @return list<float>
     */
    private static function softmax(array $output, array $h): array
    {
        $out = [];
        foreach ($output as $row) {
            $sum = 0.0;
            foreach ($h as $u => $x) {
                $sum += $row[$u] * $x;
            }
            $out[] = $sum;
        }
        $most = [] === $out ? 0.0 : max($out);
        $out = array_map(static fn (float $x): float => exp($x - $most), $out);
        $sum = array_sum($out);

        return array_map(static fn (float $x): float => $x / $sum, $out);
    }

    /**
     * @param list<float> $values
     *
     * @return list<float>
     */
    private static function rounded(array $values): array
    {
        return array_map(static fn (float $x): float => round($x, 4), $values);
    }
}
