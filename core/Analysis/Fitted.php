<?php

namespace Pestle\Core\Analysis;

/** The networks that `bin/hearing fit` found, kept beside this file in models. */
final class Fitted
{
    /** @var array<string, Network> */
    private static array $networks = [];

    public static function network(string $name): Network
    {
        return self::$networks[$name] ??= Network::read(__DIR__.'/models/'.$name.'.json');
    }

    /**
     * Which of several candidates is right: each has a score, one of them is chosen (a conditional logit).
     *
     * @param non-empty-list<list<float>> $candidates features of each
     *
     * @return non-empty-list<float> probability of each
     */
    public static function choice(string $name, array $candidates): array
    {
        $network = self::network($name);

        return self::probabilities(array_map(static fn (array $features): float => $network->outputs($features)[0], $candidates));
    }

    /**
     * @param non-empty-list<float> $scores
     *
     * @return non-empty-list<float> exponentials that add up to 1
     */
    public static function probabilities(array $scores): array
    {
        $most = max($scores);
        $scores = array_map(static fn (float $s): float => exp($s - $most), $scores);
        $sum = array_sum($scores);

        return array_map(static fn (float $s): float => $s / $sum, $scores);
    }
}
