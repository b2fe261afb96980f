<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Analysis\Network;

/**
 * A network while it is fitted: gradients are gathered example by example, then a step is taken.
 * Source: D. P. Kingma and J. Ba, "Adam" (ICLR 2015).
 */
final class Learner
{
    private readonly Adam $first;
    private readonly Adam $second;
    /** @var list<list<float>> */
    private array $hiddenGradient;
    /** @var list<list<float>> */
    private array $outputGradient;

    /**
     * @param list<float>       $mean
     * @param list<float>       $deviation
     * @param list<list<float>> $hidden
     * @param list<list<float>> $output
     */
    private function __construct(private readonly array $mean, private readonly array $deviation, private array $hidden, private array $output)
    {
        $this->first = new Adam();
        $this->second = new Adam();
        $this->clear();
    }

    /** @param list<list<float>> $features that it will meet */
    public static function of(array $features, int $units, int $outputs): self
    {
        $mean = $deviation = [];
        $count = \count($features);
        foreach (array_keys($features[0]) as $i) {
            $column = array_column($features, $i);
            $mean[$i] = array_sum($column) / $count;
            $deviation[$i] = sqrt(array_sum(array_map(static fn (float $x): float => ($x - $mean[$i]) ** 2, $column)) / $count) + 1e-6;
        }
        $n = \count($mean);

        return new self(array_values($mean), array_values($deviation), self::random($units, $n + 1, 1.5 / sqrt($n)), self::random($outputs, $units + 1, 1.0 / sqrt($units)));
    }

    public function network(): Network
    {
        return new Network(self::rounded($this->mean), array_map(static fn (float $x): float => max(1e-5, $x), self::rounded($this->deviation)), array_map(self::rounded(...), $this->hidden), array_map(self::rounded(...), $this->output));
    }

    /**
     * @param list<float> $in normalised features, then 1
     *
     * @return array{list<float>, list<float>} the hidden units, then 1; the outputs
     */
    public function forward(array $in): array
    {
        $h = [];
        foreach ($this->hidden as $row) {
            $h[] = tanh(self::product($row, $in));
        }
        $h[] = 1.0;
        $out = [];
        foreach ($this->output as $row) {
            $out[] = self::product($row, $h);
        }

        return [$h, $out];
    }

    /**
     * @param list<float> $in    as for forward()
     * @param list<float> $h     as forward() gave them
     * @param list<float> $slope of the loss for each output
     */
    public function gather(array $in, array $h, array $slope): void
    {
        $back = array_fill(0, \count($this->hidden), 0.0);
        foreach ($slope as $o => $d) {
            $this->outputGradient[$o] = self::added($this->outputGradient[$o], $h, $d);
            $row = $this->output[$o];
            foreach ($back as $u => $b) {
                $back[$u] = $b + $d * $row[$u];
            }
        }
        foreach ($back as $u => $b) {
            $this->hiddenGradient[$u] = self::added($this->hiddenGradient[$u], $in, $b * (1.0 - $h[$u] * $h[$u]));
        }
    }

    public function step(float $rate, float $decay): void
    {
        $this->hidden = $this->first->step($this->hidden, $this->hiddenGradient, $rate, $decay);
        $this->output = $this->second->step($this->output, $this->outputGradient, $rate, $decay);
        $this->clear();
    }

    private function clear(): void
    {
        $this->hiddenGradient = array_map(static fn (array $row): array => array_fill(0, \count($row), 0.0), $this->hidden);
        $this->outputGradient = array_map(static fn (array $row): array => array_fill(0, \count($row), 0.0), $this->output);
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     */
    private static function product(array $a, array $b): float
    {
        $sum = 0.0;
        foreach ($b as $i => $x) {
            $sum += $a[$i] * $x;
        }

        return $sum;
    }

    /**
     * @param list<float> $to
     * @param list<float> $what
     *
     * @return list<float>
     */
    private static function added(array $to, array $what, float $times): array
    {
        $sum = [];
        foreach ($what as $i => $x) {
            $sum[] = $to[$i] + $times * $x;
        }

        return $sum;
    }

    /**
     * @param list<float> $row
     *
     * @return list<float>
     */
    private static function rounded(array $row): array
    {
        return array_map(static fn (float $x): float => round($x, 5), $row);
    }

    /** @return list<list<float>> */
    private static function random(int $rows, int $columns, float $size): array
    {
        return array_map(static fn (): array => array_map(static fn (): float => $size * Chance::normal(), range(1, $columns)), range(1, $rows));
    }
}
