<?php

namespace Pestle\Core\Analysis;

/**
 * One hidden layer of tanh units over features whose mean and spread are taken out first. Numbers come from `bin/hearing fit`.
 * Source: D. E. Rumelhart, G. E. Hinton and R. J. Williams, "Learning representations by back-propagating errors" (1986).
 */
final readonly class Network
{
    /** Features further out than this many deviations say no more. */
    public const CLIP = 4.0;

    /**
     * @param list<float>       $mean      of each feature
     * @param list<float>       $deviation
     * @param list<list<float>> $hidden    a row for every unit: a weight for each feature, then the bias
     * @param list<list<float>> $output    a row for every output: a weight for each unit, then the bias
     */
    public function __construct(public array $mean, public array $deviation, public array $hidden, public array $output)
    {
    }

    /** From what `bin/hearing fit` keeps. */
    public static function read(string $path): self
    {
        /** @var array{mean: list<float>, deviation: list<float>, hidden: list<list<float>>, output: list<list<float>>} $numbers */
        $numbers = json_decode((string) file_get_contents($path), true, 8, \JSON_THROW_ON_ERROR);

        return new self($numbers['mean'], $numbers['deviation'], $numbers['hidden'], $numbers['output']);
    }

    /**
     * @param list<float> $features
     *
     * @return list<float>
     */
    public function outputs(array $features): array
    {
        return self::layer($this->output, array_map(tanh(...), self::layer($this->hidden, $this->normalised($features))));
    }

    /**
     * @param list<float> $features
     *
     * @return list<float>
     */
    public function normalised(array $features): array
    {
        foreach ($features as $i => $f) {
            $f = ($f - $this->mean[$i]) / $this->deviation[$i];
            $features[$i] = $f > self::CLIP ? self::CLIP : ($f < -self::CLIP ? -self::CLIP : $f);
        }

        return $features;
    }

    /**
     * @param list<list<float>> $rows
     * @param list<float>       $in
     *
     * @return list<float>
     */
    private static function layer(array $rows, array $in): array
    {
        $n = \count($in);
        $out = [];
        foreach ($rows as $row) {
            $sum = $row[$n];
            foreach ($in as $i => $x) {
                $sum += $row[$i] * $x;
            }
            $out[] = $sum;
        }

        return $out;
    }
}
