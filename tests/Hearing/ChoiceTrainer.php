<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Fitted;
use Pestle\Core\Analysis\Network;

/**
 * Fits a network that scores candidates, so that a right one among several is the most likely: a conditional logit.
 * Source: D. McFadden, "Conditional logit analysis of qualitative choice behavior" (1973).
 */
final class ChoiceTrainer
{
    private const BATCH = 16;
    private const NOISE = 0.1;
    private const SEED = 3;

    /**
     * @param list<list<list<float>>> $cases features of every candidate
     * @param list<list<int>>         $right which candidates are right; a case without any is left out
     */
    public static function fit(array $cases, array $right, int $units, float $decay = 0.002, int $rounds = 30): Network
    {
        mt_srand(self::SEED);
        $learner = Learner::of(array_merge(...$cases), $units, 1);
        $network = $learner->network();
        $order = array_keys(array_filter($right));
        for ($round = 0; $round < $rounds; ++$round) {
            $rate = 0.01 * (1.0 - $round / $rounds) + 0.0003;
            shuffle($order);
            foreach (array_chunk($order, self::BATCH) as $batch) {
                foreach ($batch as $k) {
                    $ins = $hidden = $scores = [];
                    foreach ($cases[$k] as $features) {
                        $in = $network->normalised($features);
                        foreach ($in as $i => $x) {
                            $in[$i] = $x + self::NOISE * Chance::normal();
                        }
                        $in[] = 1.0;
                        [$h, $out] = $learner->forward($in);
                        $ins[] = $in;
                        $hidden[] = $h;
                        $scores[] = $out[0];
                    }
                    $likely = [] === $scores ? [] : Fitted::probabilities($scores);
                    $sum = 1e-12;
                    foreach ($right[$k] as $r) {
                        $sum += $likely[$r];
                    }
                    foreach ($likely as $c => $p) {
                        $d = $p - (\in_array($c, $right[$k], true) ? $p / $sum : 0.0);
                        if (abs($d) > 1e-4) {
                            $learner->gather($ins[$c], $hidden[$c], [$d / \count($batch)]);
                        }
                    }
                }
                $learner->step($rate, $decay);
            }
        }

        return $learner->network();
    }
}
