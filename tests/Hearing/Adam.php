<?php

namespace Pestle\Tests\Hearing;

/** Gradient steps with moments, for a matrix of weights (Kingma and Ba, 2015). */
final class Adam
{
    private int $time = 0;
    /** @var array<int, array<int, float>> */
    private array $first = [];
    /** @var array<int, array<int, float>> */
    private array $second = [];

    /**
     * @param list<list<float>>             $weights
     * @param array<int, array<int, float>> $gradient
     *
     * @return list<list<float>>
     */
    public function step(array $weights, array $gradient, float $rate, float $decay): array
    {
        ++$this->time;
        $a = 1.0 - 0.9 ** $this->time;
        $b = 1.0 - 0.999 ** $this->time;
        $out = [];
        foreach ($weights as $r => $row) {
            foreach ($row as $c => $w) {
                $g = $gradient[$r][$c] + $decay * $w;
                $m = $this->first[$r][$c] = 0.9 * ($this->first[$r][$c] ?? 0.0) + 0.1 * $g;
                $v = $this->second[$r][$c] = 0.999 * ($this->second[$r][$c] ?? 0.0) + 0.001 * $g * $g;
                $row[$c] = $w - $rate * ($m / $a) / (sqrt($v / $b) + 1e-8);
            }
            $out[] = $row;
        }

        return $out;
    }
}
