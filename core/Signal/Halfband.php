<?php

namespace Pestle\Core\Signal;

/**
 * Twice the rate and back by half-band filters: every second tap of them is nothing, so that one half of the samples passes
 * as it is. Ends of a signal are taken as silence: give REACH more on both sides of what is wanted.
 *
 * Source: P. P. Vaidyanathan, "Multirate systems and filter banks" (1993), half-band filters; window by Kaiser.
 */
final readonly class Halfband
{
    private const BETA = 8.0;

    /** @var non-empty-list<float> taps to either side of a place between two samples */
    private array $taps;

    /** @param int $reach samples to either side */
    public function __construct(private int $reach)
    {
        $taps = [];
        for ($j = 0; $j < $reach; ++$j) {
            $x = $j + 0.5;
            $taps[] = sin(\M_PI * $x) / (\M_PI * $x) * Window::kaiser($x / ($reach + 0.5), self::BETA);
        }
        $sum = 2.0 * array_sum($taps);
        $this->taps = array_map(static fn (float $t): float => $t / $sum, $taps) ?: [0.5];
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float> twice as many
     */
    public function up(array $signal): array
    {
        $reach = $this->reach;
        $padded = [...array_fill(0, $reach, 0.0), ...$signal, ...array_fill(0, $reach + 1, 0.0)];
        $out = [];
        foreach ($signal as $n => $x) {
            $sum = 0.0;
            $before = $n + $reach;
            $after = $before + 1;
            foreach ($this->taps as $tap) {
                $sum += $tap * ($padded[$before--] + $padded[$after++]);
            }
            $out[] = $x;
            $out[] = $sum;
        }

        return $out;
    }

    /**
     * @param list<float> $signal an even number of them
     *
     * @return list<float> half as many
     */
    public function down(array $signal): array
    {
        $edge = 2 * $this->reach;
        $padded = [...array_fill(0, $edge, 0.0), ...$signal, ...array_fill(0, $edge, 0.0)];
        $out = [];
        for ($n = 0, $count = \count($signal); $n < $count; $n += 2) {
            $sum = 0.0;
            $before = $n + $edge - 1;
            $after = $n + $edge + 1;
            foreach ($this->taps as $tap) {
                $sum += $tap * ($padded[$before] + $padded[$after]);
                $before -= 2;
                $after += 2;
            }
            $out[] = 0.5 * ($padded[$n + $edge] + $sum);
        }

        return $out;
    }
}
