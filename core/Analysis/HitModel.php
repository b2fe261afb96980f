<?php

namespace Pestle\Core\Analysis;

/**
 * Kind of a hit from its features: a small network (one hidden layer, tanh, softmax) fitted to sampled drum kits.
 * Its numbers come from `bin/hearing fit` and are kept in models/hits.json.
 * Source: D. E. Rumelhart, G. E. Hinton and R. J. Williams, "Learning representations by back-propagating errors" (1986).
 */
final class HitModel
{
    public const KINDS = [HitKind::Kick, HitKind::Snare, HitKind::Clap, HitKind::Rim, HitKind::ClosedHat, HitKind::OpenHat, HitKind::Tom, HitKind::Cymbal, HitKind::Percussion];
    /** Features further out than this many deviations say no more. */
    public const CLIP = 4.0;
    private static ?self $shipped = null;

    /**
     * @param list<float>       $mean      of each feature
     * @param list<float>       $deviation
     * @param list<list<float>> $hidden    a row for every unit: a weight for each feature, then the bias
     * @param list<list<float>> $output    a row for every kind: a weight for each unit, then the bias
     */
    public function __construct(private readonly array $mean, private readonly array $deviation, private readonly array $hidden, private readonly array $output)
    {
    }

    public static function shipped(): self
    {
        /** @var array{mean: list<float>, deviation: list<float>, hidden: list<list<float>>, output: list<list<float>>} $numbers */
        $numbers = self::$shipped ?? json_decode((string) file_get_contents(__DIR__.'/models/hits.json'), true, 8, \JSON_THROW_ON_ERROR);

        return self::$shipped ??= new self($numbers['mean'], $numbers['deviation'], $numbers['hidden'], $numbers['output']);
    }

    /**
     * @param list<float> $features
     *
     * @return non-empty-list<float> probability of each of KINDS
     */
    public function probabilities(array $features): array
    {
        $in = [];
        foreach ($features as $i => $f) {
            $in[] = max(-self::CLIP, min(self::CLIP, ($f - $this->mean[$i]) / $this->deviation[$i]));
        }
        $hidden = array_map(tanh(...), self::layer($this->hidden, $in));
        $out = self::layer($this->output, $hidden);
        $most = [] === $out ? 0.0 : max($out);
        $out = array_map(static fn (float $x): float => exp($x - $most), $out);
        $sum = array_sum($out);

        return [] === $out ? [0.0] : array_map(static fn (float $x): float => $x / $sum, $out);
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
