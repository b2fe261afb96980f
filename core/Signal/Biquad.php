<?php

namespace Pestle\Core\Signal;

/**
 * Coefficients of a second-order section, normalised to a0 = 1:
 * y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2].
 *
 * Source: Robert Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients" (W3C note).
 */
final readonly class Biquad
{
    /** Added to a section's memory, far below what is heard: numbers that die away below 1e-308 are twenty times as slow to reckon with. */
    public const TINY = 1e-30;

    private function __construct(
        public float $b0,
        public float $b1,
        public float $b2,
        public float $a1,
        public float $a2,
    ) {
    }

    /** Coefficients as published, for filters defined by their numbers. */
    public static function of(float $b0, float $b1, float $b2, float $a0, float $a1, float $a2): self
    {
        return new self($b0 / $a0, $b1 / $a0, $b2 / $a0, $a1 / $a0, $a2 / $a0);
    }

    /** @return array{float, float, float, float, float} b0, b1, b2, a1, a2 */
    public function coefficients(): array
    {
        return [$this->b0, $this->b1, $this->b2, $this->a1, $this->a2];
    }

    /** What changes nothing. */
    public static function through(): self
    {
        return new self(1.0, 0.0, 0.0, 0.0, 0.0);
    }

    public static function peaking(float $hz, float $q, float $gainDb, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);
        $a = 10.0 ** ($gainDb / 40.0);

        return self::of(1 + $alpha * $a, -2 * $cos, 1 - $alpha * $a, 1 + $alpha / $a, -2 * $cos, 1 - $alpha / $a);
    }

    public static function lowShelf(float $hz, float $q, float $gainDb, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);
        $a = 10.0 ** ($gainDb / 40.0);
        $root = 2 * sqrt($a) * $alpha;

        return self::of(
            $a * (($a + 1) - ($a - 1) * $cos + $root),
            2 * $a * (($a - 1) - ($a + 1) * $cos),
            $a * (($a + 1) - ($a - 1) * $cos - $root),
            ($a + 1) + ($a - 1) * $cos + $root,
            -2 * (($a - 1) + ($a + 1) * $cos),
            ($a + 1) + ($a - 1) * $cos - $root,
        );
    }

    public static function highShelf(float $hz, float $q, float $gainDb, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);
        $a = 10.0 ** ($gainDb / 40.0);
        $root = 2 * sqrt($a) * $alpha;

        return self::of(
            $a * (($a + 1) + ($a - 1) * $cos + $root),
            -2 * $a * (($a - 1) + ($a + 1) * $cos),
            $a * (($a + 1) + ($a - 1) * $cos - $root),
            ($a + 1) - ($a - 1) * $cos + $root,
            2 * (($a - 1) - ($a + 1) * $cos),
            ($a + 1) - ($a - 1) * $cos - $root,
        );
    }

    public static function lowPass(float $hz, float $q, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);

        return self::of((1 - $cos) / 2, 1 - $cos, (1 - $cos) / 2, 1 + $alpha, -2 * $cos, 1 - $alpha);
    }

    public static function highPass(float $hz, float $q, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);

        return self::of((1 + $cos) / 2, -1 - $cos, (1 + $cos) / 2, 1 + $alpha, -2 * $cos, 1 - $alpha);
    }

    /** Of first order: 6 dB an octave, by the bilinear transform. */
    public static function gentleHighPass(float $hz, float $sampleRate): self
    {
        $k = tan(\M_PI * min($hz, 0.49 * $sampleRate) / $sampleRate);

        return self::of(1.0, -1.0, 0.0, 1.0 + $k, $k - 1.0, 0.0);
    }

    /** Of first order: 6 dB an octave, by the bilinear transform. */
    public static function gentleLowPass(float $hz, float $sampleRate): self
    {
        $k = tan(\M_PI * min($hz, 0.49 * $sampleRate) / $sampleRate);

        return self::of($k, $k, 0.0, 1.0 + $k, $k - 1.0, 0.0);
    }

    public static function bandPass(float $hz, float $q, float $sampleRate): self
    {
        [$cos, $alpha] = self::angle($hz, $q, $sampleRate);

        return self::of($alpha, 0.0, -$alpha, 1 + $alpha, -2 * $cos, 1 - $alpha);
    }

    /** Gain in dB at $hz. */
    public function responseDb(float $hz, float $sampleRate): float
    {
        $w = 2 * \M_PI * $hz / $sampleRate;
        [$c1, $s1, $c2, $s2] = [cos($w), sin($w), cos(2 * $w), sin(2 * $w)];
        $num = ($this->b0 + $this->b1 * $c1 + $this->b2 * $c2) ** 2 + ($this->b1 * $s1 + $this->b2 * $s2) ** 2;
        $den = (1 + $this->a1 * $c1 + $this->a2 * $c2) ** 2 + ($this->a1 * $s1 + $this->a2 * $s2) ** 2;

        return 10 * log10(max($num / $den, 1e-15));
    }

    /**
     * Filters one channel from rest: for sounds made at once. Streams use Mix\Equalizer.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    public function filter(array $signal): array
    {
        [$b0, $b1, $b2, $a1, $a2] = [$this->b0, $this->b1, $this->b2, $this->a1, $this->a2];
        $s1 = $s2 = 0.0;
        $out = [];
        foreach ($signal as $x) {
            $y = $b0 * $x + $s1;
            $s1 = $s2 + $b1 * $x - $a1 * $y;
            $s2 = $b2 * $x - $a2 * $y + self::TINY;
            $out[] = $y;
        }

        return $out;
    }

    /** @return array{float, float} cosine of the angle and alpha */
    private static function angle(float $hz, float $q, float $sampleRate): array
    {
        $w = 2 * \M_PI * min($hz, 0.49 * $sampleRate) / $sampleRate;

        return [cos($w), sin($w) / (2 * $q)];
    }
}
