<?php

namespace Pestle\Core\Signal;

/**
 * What a sound does that does not follow from what it did just before: tones go on as they were and are predicted, a hit is
 * not. Source: J. P. Burg, "Maximum entropy spectral analysis" (thesis, Stanford 1975).
 */
final readonly class Prediction
{
    /** @param list<float> $weights of the values before, the latest first */
    private function __construct(private array $weights)
    {
    }

    /** @param list<float> $signal what is learned from, several times as long as $order */
    public static function from(array $signal, int $order): self
    {
        $forward = $backward = $signal;
        /** @var list<float> $weights */
        $weights = [];
        $frames = \count($signal);
        for ($k = 1; $k <= $order; ++$k) {
            $both = $power = 0.0;
            for ($i = $k; $i < $frames; ++$i) {
                $both += $forward[$i] * $backward[$i - 1];
                $power += $forward[$i] * $forward[$i] + $backward[$i - 1] * $backward[$i - 1];
            }
            if ($power < 1e-15) {
                break;
            }
            $reflected = 2.0 * $both / $power;
            for ($i = $frames - 1; $i >= $k; --$i) {
                $ahead = $forward[$i];
                $forward[$i] = $ahead - $reflected * $backward[$i - 1];
                $backward[$i] = $backward[$i - 1] - $reflected * $ahead;
            }
            $next = $weights;
            foreach ($weights as $i => $weight) {
                $next[$i] = $weight - $reflected * $weights[$k - 2 - $i];
            }
            $next[] = $reflected;
            $weights = array_values($next);
        }

        return new self($weights);
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float> what was not predicted, from frame $from on
     */
    public function unforeseen(array $signal, int $from): array
    {
        $out = [];
        for ($i = $from, $frames = \count($signal); $i < $frames; ++$i) {
            $guess = 0.0;
            foreach ($this->weights as $k => $weight) {
                $guess += $weight * ($signal[$i - 1 - $k] ?? 0.0);
            }
            $out[] = $signal[$i] - $guess;
        }

        return $out;
    }
}
