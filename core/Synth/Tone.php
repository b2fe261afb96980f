<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Noise;

/** The small parts sounds are built from. Times in seconds, frequencies in Hz, one channel unless said. */
final readonly class Tone
{
    public function __construct(public int $sampleRate)
    {
    }

    public function frames(float $seconds): int
    {
        return (int) round($seconds * $this->sampleRate);
    }

    /**
     * A rise of $attack, then an exponential fall by 60 dB in $decay.
     *
     * @return list<float>
     */
    public function envelope(float $seconds, float $attack, float $decay): array
    {
        $out = [];
        $rise = max(1, $this->frames($attack));
        $fall = -log(1000.0) / ($decay * $this->sampleRate);
        for ($i = 0, $n = $this->frames($seconds); $i < $n; ++$i) {
            $out[] = $i < $rise ? 0.5 - 0.5 * cos(\M_PI * $i / $rise) : exp($fall * ($i - $rise));
        }

        return $out;
    }

    /** @return list<float> */
    public function sine(float $seconds, float $hz, float $phase = 0.0): array
    {
        $out = [];
        $step = 2 * \M_PI * $hz / $this->sampleRate;
        for ($i = 0, $n = $this->frames($seconds); $i < $n; ++$i) {
            $out[] = sin($phase + $step * $i);
        }

        return $out;
    }

    /** @return list<float> */
    public function noise(float $seconds, int $seed): array
    {
        return (new Noise($seed))->block($this->frames($seconds));
    }

    /**
     * Noise between two frequencies.
     *
     * @return list<float>
     */
    public function band(float $seconds, float $fromHz, float $toHz, int $seed): array
    {
        $signal = $this->noise($seconds, $seed);
        foreach ([Biquad::highPass($fromHz, 0.71, $this->sampleRate), Biquad::lowPass($toHz, 0.71, $this->sampleRate)] as $filter) {
            $signal = $filter->filter($signal);
        }

        return $signal;
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     *
     * @return list<float>
     */
    public static function shaped(array $a, array $b): array
    {
        foreach ($a as $i => $x) {
            $a[$i] = $x * ($b[$i] ?? 0.0);
        }

        return $a;
    }

    /**
     * Sum of several signals, each with its level; as long as the longest.
     *
     * @param list<array{list<float>, float}> $parts
     *
     * @return list<float>
     */
    public static function mixed(array $parts): array
    {
        $out = array_fill(0, max(1, ...array_map(static fn (array $p): int => \count($p[0]), $parts)), 0.0);
        foreach ($parts as [$signal, $level]) {
            foreach ($signal as $i => $x) {
                $out[$i] += $level * $x;
            }
        }

        return array_values($out);
    }

    /**
     * Soft saturation of the drive given (1 is gentle), level kept for full scale.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    public static function warm(array $signal, float $drive): array
    {
        $scale = 1.0 / tanh($drive);
        foreach ($signal as $i => $x) {
            $signal[$i] = tanh($drive * $x) * $scale;
        }

        return $signal;
    }

    /**
     * Two sides with their peak at $peak, the last 5 ms faded, no offset.
     *
     * @param list<float>      $left
     * @param list<float>|null $right the same as left when not given
     */
    public function finished(array $left, ?array $right = null, float $peak = 0.7): StereoBlock
    {
        $block = new StereoBlock($this->ended($left), $this->ended($right ?? $left));
        $gain = $peak / max(1e-9, $block->peak());
        $scaled = self::scaled($block->left, $gain);

        return new StereoBlock($scaled, null === $right ? $scaled : self::scaled($block->right, $gain));
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private function ended(array $signal): array
    {
        $signal = Biquad::highPass(20.0, 0.71, $this->sampleRate)->filter($signal);
        $n = \count($signal);
        $fade = min($n, $this->frames(0.005));
        for ($i = 0; $i < $fade; ++$i) {
            $signal[$n - 1 - $i] *= $i / $fade;
        }

        return array_values($signal);
    }

    /**
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private static function scaled(array $signal, float $gain): array
    {
        foreach ($signal as $i => $x) {
            $signal[$i] = $x * $gain;
        }

        return $signal;
    }
}
