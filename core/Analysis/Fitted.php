<?php

namespace Pestle\Core\Analysis;

/** Weights that `bin/hearing fit` found, kept beside this file; a candidate's score is the weighted sum of its features. */
final class Fitted
{
    /** @var array<string, list<float>> */
    private static array $weights = [];

    /**
     * @param non-empty-list<list<float>> $candidates features of each
     *
     * @return non-empty-list<float> probability of each
     */
    public static function choice(string $model, array $candidates): array
    {
        $weights = self::$weights[$model] ??= self::read($model);
        $scores = [];
        foreach ($candidates as $features) {
            $sum = 0.0;
            foreach ($features as $i => $x) {
                $sum += $weights[$i] * $x;
            }
            $scores[] = $sum;
        }
        $most = max($scores);
        $scores = array_map(static fn (float $s): float => exp($s - $most), $scores);
        $sum = array_sum($scores);

        return array_map(static fn (float $s): float => $s / $sum, $scores);
    }

    /** @return list<float> */
    private static function read(string $model): array
    {
        /** @var list<float> $weights */
        $weights = json_decode((string) file_get_contents(__DIR__.'/models/'.$model.'.json'), true, 4, \JSON_THROW_ON_ERROR);

        return $weights;
    }
}
