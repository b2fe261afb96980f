<?php

namespace Pestle\Core\Mix;

/**
 * Eight delay lines that feed each other through a Hadamard matrix, each with a low-pass of first order that gives lows
 * and highs their time to ring, behind all-passes, as rooms had them by the first rules.
 * Sources: M. R. Schroeder, "Natural sounding artificial reverberation" (JAES 1962), for the all-passes; J.-M. Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators" (AES 1991).
 */
final readonly class EightLines implements RoomLines
{
    /** In ms at size 1: no two have much in common. */
    private const LINES_MS = [31.7, 36.1, 41.3, 45.9, 51.7, 57.1, 63.3, 69.7];
    /** All-passes before them, by side: ms and how much. */
    private const SPREAD = [[[4.77, 0.7], [9.31, 0.7], [21.1, 0.6]], [[3.59, 0.7], [12.73, 0.7], [18.3, 0.6]]];
    /** What the lines bring together is this much louder than one of them. */
    private const LEVEL = 0.42;

    /** @var list<int> of the lines */
    private array $frames;
    /** @var list<list<array{int, float}>> frames and gain of the all-passes by side */
    private array $spread;
    /** @var list<float> gain and pole of the low-pass of each line */
    private array $losses;

    public function __construct(private ReverbSettings $settings, private float $sampleRate)
    {
        $lines = $losses = [];
        foreach (self::LINES_MS as $ms) {
            $lines[] = $n = $this->in($ms * $settings->size);
            $gain = 10.0 ** (-3.0 * $n / ($settings->decay * $sampleRate));
            // The pole at which the highest frequency rings for its share of the time (Jot and Chaigne, first order).
            $pole = max(0.0, min(0.98, 0.25 * log(10.0) * log10($gain) * (1.0 - 1.0 / (0.01 * $settings->highs) ** 2)));
            array_push($losses, $gain, $pole);
        }
        [$this->frames, $this->losses] = [$lines, $losses];
        $this->spread = array_map(fn (array $side): array => array_map(fn (array $s): array => [$this->in($s[0]), 0.01 * $settings->density * $s[1]], $side), self::SPREAD);
    }

    private function in(float $ms): int
    {
        return max(1, (int) round($ms * $this->sampleRate / 1000.0));
    }

    public function frames(): array
    {
        return [...array_column($this->spread[0], 0), ...array_column($this->spread[1], 0), ...$this->frames];
    }

    public function numbers(): int
    {
        return \count($this->frames);
    }

    public function level(): float
    {
        return self::LEVEL;
    }

    public function ring(array $left, array $right, array $memory, array $numbers): array
    {
        foreach ([0, 1] as $side) {
            $k = 3 * $side;
            [[$a, $g], [$b, $h], [$c, $l]] = $this->spread[$side];
            [$feed[$side], $memory[$k], $memory[$k + 1], $memory[$k + 2]] = self::spread(0 === $side ? $left : $right, $memory[$k], $memory[$k + 1], $memory[$k + 2], $g, $h, $l, $a, $b, $c, Memory::STEP);
        }
        $lines = \array_slice($memory, 6);
        $out = self::round($feed[0], $feed[1], $lines[0], $lines[1], $lines[2], $lines[3], $lines[4], $lines[5], $lines[6], $lines[7], Memory::STEP, ...$this->losses, ...$numbers);
        foreach ($this->frames as $k => $frames) {
            $out[2][$k] = \array_slice($out[2][$k], -$frames);
        }

        return [$out[0], $out[1], [...\array_slice($memory, 0, 6), ...$out[2]], $out[3]];
    }

    /**
     * Three all-passes one after another, in one loop.
     *
     * @param list<float> $signal
     * @param list<float> $a      what they remember
     * @param list<float> $b
     * @param list<float> $c
     *
     * @return array{list<float>, list<float>, list<float>, list<float>} the sound, and what they remember then
     */
    private static function spread(array $signal, array $a, array $b, array $c, float $g, float $h, float $k, int $as, int $bs, int $cs, float $step): array
    {
        $scale = 1.0 / $step;
        for ($i = 0, $n = \count($signal); $i < $n; ++$i) {
            $x = $signal[$i];
            $u = $a[$i];
            $v = $b[$i];
            $w = $c[$i];
            if (!\is_float($x) || !\is_float($u) || !\is_float($v) || !\is_float($w)) {
                throw new \TypeError('Sound is floats.');
            }
            $y = (int) (($x + $g * $u) * $scale) * $step;
            $a[] = $y;
            $x = $u - $g * $y;
            $y = (int) (($x + $h * $v) * $scale) * $step;
            $b[] = $y;
            $x = $v - $h * $y;
            $y = (int) (($x + $k * $w) * $scale) * $step;
            $c[] = $y;
            $signal[$i] = $w - $k * $y;
        }

        return [array_values($signal), \array_slice($a, -$as), \array_slice($b, -$bs), \array_slice($c, -$cs)];
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     * @param list<float> $l0
     * @param list<float> $l1
     * @param list<float> $l2
     * @param list<float> $l3
     * @param list<float> $l4
     * @param list<float> $l5
     * @param list<float> $l6
     * @param list<float> $l7
     *
     * @return array{list<float>, list<float>, list<list<float>>, list<float>}
     */
    private static function round(
        array $left, array $right, array $l0, array $l1, array $l2, array $l3, array $l4, array $l5, array $l6, array $l7, float $step,
        float $g0, float $p0, float $g1, float $p1, float $g2, float $p2, float $g3, float $p3, float $g4, float $p4, float $g5, float $p5, float $g6, float $p6, float $g7, float $p7,
        float $s0, float $s1, float $s2, float $s3, float $s4, float $s5, float $s6, float $s7,
    ): array {
        // Each line takes in an eighth's root of all: the matrix neither adds nor loses anything.
        $half = 0.35355339059327373 / $step;
        $scale = 1.0 / $step;
        for ($i = 0, $n = \count($left); $i < $n; ++$i) {
            $x = $left[$i];
            $z = $right[$i];
            if (!\is_float($x) || !\is_float($z)) {
                throw new \TypeError('Sound is floats.');
            }
            $s0 += (1.0 - $p0) * ($g0 * $l0[$i] - $s0);
            $s1 += (1.0 - $p1) * ($g1 * $l1[$i] - $s1);
            $s2 += (1.0 - $p2) * ($g2 * $l2[$i] - $s2);
            $s3 += (1.0 - $p3) * ($g3 * $l3[$i] - $s3);
            $s4 += (1.0 - $p4) * ($g4 * $l4[$i] - $s4);
            $s5 += (1.0 - $p5) * ($g5 * $l5[$i] - $s5);
            $s6 += (1.0 - $p6) * ($g6 * $l6[$i] - $s6);
            $s7 += (1.0 - $p7) * ($g7 * $l7[$i] - $s7);
            $left[$i] = $s0 - $s2 + $s4 - $s6;
            $right[$i] = $s1 - $s3 + $s5 - $s7;
            $a = $s0 + $s1;
            $b = $s0 - $s1;
            $c = $s2 + $s3;
            $d = $s2 - $s3;
            $e = $s4 + $s5;
            $f = $s4 - $s5;
            $g = $s6 + $s7;
            $h = $s6 - $s7;
            $j = $a + $c;
            $c = $a - $c;
            $k = $b + $d;
            $d = $b - $d;
            $m = $e + $g;
            $g = $e - $g;
            $o = $f + $h;
            $h = $f - $h;
            $x *= $scale;
            $z *= $scale;
            $l0[] = (int) ($half * ($j + $m) + $x) * $step;
            $l1[] = (int) ($half * ($k + $o) + $z) * $step;
            $l2[] = (int) ($half * ($c + $g) - $x) * $step;
            $l3[] = (int) ($half * ($d + $h) + $z) * $step;
            $l4[] = (int) ($half * ($j - $m) + $x) * $step;
            $l5[] = (int) ($half * ($k - $o) - $z) * $step;
            $l6[] = (int) ($half * ($c - $g) - $x) * $step;
            $l7[] = (int) ($half * ($d - $h) + $z) * $step;
        }

        return [array_values($left), array_values($right), [$l0, $l1, $l2, $l3, $l4, $l5, $l6, $l7], [$s0, $s1, $s2, $s3, $s4, $s5, $s6, $s7]];
    }
}
