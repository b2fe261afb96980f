<?php

namespace Pestle\Tests\Hearing;

/**
 * Weights under which the right one among several candidates is the most likely: a conditional logit.
 * Source: D. McFadden, "Conditional logit analysis of qualitative choice behavior" (1973).
 */
final class ChoiceTrainer
{
    /**
     * @param list<list<list<float>>> $cases features of every candidate
     * @param list<list<int>>         $right which candidates are right
     *
     * @return list<float>
     */
    public static function fit(array $cases, array $right, float $decay, int $rounds = 400): array
    {
        $count = \count($cases[0][0]);
        $weights = [array_fill(0, $count, 0.0)];
        $adam = new Adam();
        for ($round = 0; $round < $rounds; ++$round) {
            $gradient = array_fill(0, $count, 0.0);
            foreach ($cases as $k => $candidates) {
                $likely = self::softmax($candidates, $weights[0]);
                $sum = 1e-12;
                foreach ($right[$k] as $r) {
                    $sum += $likely[$r];
                }
                foreach ($candidates as $c => $features) {
                    $d = $likely[$c] - (\in_array($c, $right[$k], true) ? $likely[$c] / $sum : 0.0);
                    foreach ($features as $i => $x) {
                        $gradient[$i] += $d * $x;
                    }
                }
            }
            $gradient = array_map(static fn (float $g): float => $g / \count($cases), $gradient);
            $weights = $adam->step($weights, [$gradient], 0.1 * (1.0 - $round / $rounds) + 0.002, $decay / \count($cases));
        }

        return array_map(static fn (float $w): float => round($w, 3), $weights[0]);
    }

    /**
     * @param list<list<float>> $candidates
     * @param list<float>       $weights
     *
     * @return list<float>
     */
    private static function softmax(array $candidates, array $weights): array
    {
        $scores = [];
        foreach ($candidates as $features) {
            $sum = 0.0;
            foreach ($features as $i => $x) {
                $sum += $weights[$i] * $x;
            }
            $scores[] = $sum;
        }
        $most = [] === $scores ? 0.0 : max($scores);
        $scores = array_map(static fn (float $s): float => exp($s - $most), $scores);
        $sum = array_sum($scores);

        return array_map(static fn (float $s): float => $s / $sum, $scores);
    }
}
