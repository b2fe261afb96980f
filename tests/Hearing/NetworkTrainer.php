<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Fitted;
use Pestle\Core\Analysis\Network;

/**
 * Fits a network that names things, such as hits: cross entropy, mini-batches, weight decay, and noise on what goes in, so that it
 * does not learn single recordings by heart.
 */
final class NetworkTrainer
{
    private const BATCH = 128;
    private const DECAY = 0.001;
    private const NOISE = 0.2;
    private const SEED = 7;

    /**
     * @param list<list<float>> $features
     * @param list<int>         $kinds    0 to $outs - 1
     */
    public static function fit(array $features, array $kinds, int $outs, int $units, int $rounds): Network
    {
        mt_srand(self::SEED);
        $learner = Learner::of($features, $units, $outs);
        $network = $learner->network();
        $counts = array_count_values($kinds) + array_fill(0, $outs, 0);
        $importance = array_map(static fn (int $count): float => 1.0 / sqrt($count + 20.0), $counts);
        $average = array_sum(array_map(static fn (int $kind): float => $importance[$kind], $kinds)) / \count($kinds);
        $order = range(0, \count($kinds) - 1);
        for ($round = 0; $round < $rounds; ++$round) {
            $rate = 0.008 * (1.0 - $round / $rounds) + 0.0002;
            shuffle($order);
            foreach (array_chunk($order, self::BATCH) as $batch) {
                foreach ($batch as $k) {
                    $in = $network->normalised($features[$k]);
                    foreach ($in as $i => $x) {
                        $in[$i] = $x + self::NOISE * Chance::normal();
                    }
                    $in[] = 1.0;
                    [$h, $out] = $learner->forward($in);
                    $weight = $importance[$kinds[$k]] / $average / \count($batch);
                    $slope = [];
                    foreach ([] === $out ? [] : Fitted::probabilities($out) as $kind => $probability) {
                        $slope[] = $weight * ($probability - ($kind === $kinds[$k] ? 1.0 : 0.0));
                    }
                    $learner->gather($in, $h, $slope);
                }
                $learner->step($rate, self::DECAY);
            }
        }

        return $learner->network();
    }
}
