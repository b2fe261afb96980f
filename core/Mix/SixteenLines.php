<?php

namespace Pestle\Core\Mix;

/**
 * Sixteen delay lines that feed each other through a Hadamard matrix, each with a low-pass of first order. Lines are as long
 * as the room is large, and no longer than a short decay leaves of them; each loses just what its length asks for, at the
 * lowest and at the highest frequency, and what comes out is as loud whatever is set.
 * Source: J.-M. Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators" (AES 1991).
 */
final readonly class SixteenLines implements RoomLines
{
    /** In ms at size 1. No steps between them are alike, nor do they lie on a grid: sums of few would fall together, and echoes come in heaps. */
    private const LINES_MS = [16.96, 17.703, 19.233, 22.149, 24.125, 24.488, 28.109, 33.12, 39.177, 42.34, 43.794, 44.978, 49.996, 50.341, 52.272, 52.54];
    /** Most that a line of middling length loses when it is passed once, in dB. */
    private const MOST_LOSS = 6.0;
    /** Echoes that are made of one, of each of these, and of each of those, by side: ms at size 1, in order, below nothing where they are turned over. */
    private const SPREAD = [[[0.439, -0.937, 1.312, 1.709, -2.173], [2.861, -5.302, 7.065, 9.375, -12.079], [8.262, 13.897, -19.695, -24.127, 29.302]], [[-0.511, 0.8, 1.413, -1.897, 2.282], [3.14, 4.74, -6.827, 9.717, 11.885], [-7.878, 14.883, 18.666, 25.321, -28.092]]];
    /** Size of those echoes for each second that highs ring, at the most: they are over before. */
    private const LONGEST_SPREAD = 4.0;
    /** Most that the highest frequency loses when a line of middling length is passed once, in dB. */
    private const MOST_LOSS_HIGH = 24.0;
    /** What is heard of a room of 1.6 s, against what goes in. */
    private const LEVEL = 0.36;
    private const USUAL_DECAY = 1.6;
    private const USUAL_HIGHS = 45.0;
    private const STEPS = 8;

    /** @var list<int> of the lines */
    private array $frames;
    /** @var list<array{int, array{int, int, int, int, int, int}, array{float, float, float, float, float, float}}> frames that are remembered; frames and gains of the echoes made of one */
    private array $spread;
    /** @var list<float> gain and pole of the low-pass of each line */
    private array $losses;
    private float $level;

    public function __construct(ReverbSettings $settings, float $sampleRate)
    {
        $this->frames = self::lengths($settings, $sampleRate);
        $losses = [];
        foreach ($this->frames as $frames) {
            array_push($losses, ...self::losses($frames, $settings, $sampleRate));
        }
        $this->losses = $losses;
        $this->spread = self::spread($settings, $sampleRate);
        $usual = (new ReverbSettings('usual'))->with(['decay' => self::USUAL_DECAY, 'highs' => self::USUAL_HIGHS]);
        $this->level = self::LEVEL * sqrt(self::energy($usual, $sampleRate) / self::energy($settings, $sampleRate));
    }

    /** @return list<int> */
    private static function lengths(ReverbSettings $settings, float $sampleRate): array
    {
        $mean = array_sum(self::LINES_MS) / \count(self::LINES_MS);
        $most = min(self::MOST_LOSS, 0.01 * self::MOST_LOSS_HIGH * $settings->highs) / 60.0 * 1000.0 * $settings->decay / $mean;
        $size = min($settings->size, $most);

        return array_map(static fn (float $ms): int => max(1, (int) round($ms * $size * $sampleRate / 1000.0)), self::LINES_MS);
    }

    /** @return array{float, float} gain at the lowest frequency, and the pole that leaves highs their share at the highest */
    private static function losses(int $frames, ReverbSettings $settings, float $sampleRate): array
    {
        $gain = 10.0 ** (-3.0 * $frames / ($settings->decay * $sampleRate));
        $left = $gain ** (100.0 / $settings->highs - 1.0);

        return [$gain, (1.0 - $left) / (1.0 + $left)];
    }

    /**
     * Seconds for 60 dB at a frequency: the rate at which energy that is shared evenly by all lines grows less, so that what
     * each leaves of it for its length is one on the mean.
     */
    public static function decayAt(float $hz, ReverbSettings $settings, float $sampleRate): float
    {
        $turn = 2.0 * \M_PI * $hz / $sampleRate;
        $lines = [];
        $rate = 0.0;
        foreach (self::lengths($settings, $sampleRate) as $frames) {
            [$gain, $pole] = self::losses($frames, $settings, $sampleRate);
            $lost = -2.0 * log($gain * (1.0 - $pole) / sqrt(1.0 - 2.0 * $pole * cos($turn) + $pole * $pole));
            $lines[] = [$lost, $frames];
            $rate = max($rate, $lost / $frames);
        }
        // From above by Newton's steps: the mean is convex in the rate.
        for ($i = 0; $i < self::STEPS; ++$i) {
            $mean = $slope = 0.0;
            foreach ($lines as [$lost, $frames]) {
                $left = exp($rate * $frames - $lost);
                $mean += $left;
                $slope += $frames * $left;
            }
            $rate -= ($mean - \count($lines)) / $slope;
        }

        return 6.0 * log(10.0) / $rate / $sampleRate;
    }

    /** What comes round of a short noise that is as strong in every octave from 125 Hz to 8 kHz. */
    private static function energy(ReverbSettings $settings, float $sampleRate): float
    {
        $mean = array_sum(self::lengths($settings, $sampleRate)) / \count(self::LINES_MS);
        $sum = 0.0;
        for ($hz = 125.0; $hz < 9000.0; $hz *= 2.0) {
            $left = 10.0 ** (-6.0 * $mean / $sampleRate / self::decayAt($hz, $settings, $sampleRate));
            $sum += $left / (1.0 - $left);
        }

        return $sum;
    }

    /** @return list<array{int, array{int, int, int, int, int, int}, array{float, float, float, float, float, float}}> by side, three after one another */
    private static function spread(ReverbSettings $settings, float $sampleRate): array
    {
        $share = 0.01 * $settings->density / sqrt(6.0);
        $first = sqrt(1.0 - 5.0 * $share * $share);
        $size = min($settings->size, self::LONGEST_SPREAD * $settings->decay * 0.01 * max(20.0, $settings->highs));
        $out = [];
        foreach (self::SPREAD as $side) {
            foreach ($side as [$b, $c, $d, $e, $f]) {
                $frames = static fn (float $ms): int => max(1, (int) round(abs($ms) * $size * $sampleRate / 1000.0));
                $gain = static fn (float $ms): float => $ms < 0.0 ? -$share : $share;
                $out[] = [$frames($f), [0, $frames($b), $frames($c), $frames($d), $frames($e), $frames($f)], [$first, $gain($b), $gain($c), $gain($d), $gain($e), $gain($f)]];
            }
        }

        return $out;
    }

    public function frames(): array
    {
        return [...array_column($this->spread, 0), ...$this->frames];
    }

    public function numbers(): int
    {
        return \count($this->frames);
    }

    public function level(): float
    {
        return $this->level;
    }

    public function ring(array $left, array $right, array $memory, array $numbers): array
    {
        $feed = [$left, $right];
        foreach ($this->spread as $k => [$longest, $frames, $gains]) {
            $all = [...$memory[$k], ...$feed[intdiv($k, 3)]];
            $memory[$k] = \array_slice($all, -$longest);
            $feed[intdiv($k, 3)] = self::six($all, \count($left), $longest, ...$frames, ...$gains);
        }
        $lines = \array_slice($memory, 6);
        $out = self::round($feed[0], $feed[1], $lines[0], $lines[1], $lines[2], $lines[3], $lines[4], $lines[5], $lines[6], $lines[7], $lines[8], $lines[9], $lines[10], $lines[11], $lines[12], $lines[13], $lines[14], $lines[15], Memory::STEP, ...$this->losses, ...$numbers);
        foreach ($this->frames as $k => $frames) {
            $out[2][$k] = \array_slice($out[2][$k], -$frames);
        }

        return [$out[0], $out[1], [...\array_slice($memory, 0, 6), ...array_values($out[2])], $out[3]];
    }

    /**
     * A sound and five echoes of it, on the grid of what is remembered.
     *
     * @param list<float> $all with as much as is remembered before it
     *
     * @return list<float>
     */
    private static function six(array $all, int $count, int $before, int $a, int $b, int $c, int $d, int $e, int $f, float $ga, float $gb, float $gc, float $gd, float $ge, float $gf): array
    {
        $scale = 1.0 / Memory::STEP;
        $step = Memory::STEP;
        $out = [];
        for ($i = $before, $end = $before + $count; $i < $end; ++$i) {
            $out[] = (int) (($ga * $all[$i - $a] + $gb * $all[$i - $b] + $gc * $all[$i - $c] + $gd * $all[$i - $d] + $ge * $all[$i - $e] + $gf * $all[$i - $f]) * $scale) * $step;
        }

        return $out;
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
     * @param list<float> $l8
     * @param list<float> $l9
     * @param list<float> $l10
     * @param list<float> $l11
     * @param list<float> $l12
     * @param list<float> $l13
     * @param list<float> $l14
     * @param list<float> $l15
     *
     * @return array{list<float>, list<float>, list<list<float>>, list<float>}
     */
    private static function round(
        array $left, array $right, array $l0, array $l1, array $l2, array $l3, array $l4, array $l5, array $l6, array $l7, array $l8, array $l9, array $l10, array $l11, array $l12, array $l13, array $l14, array $l15, float $step,
        float $g0, float $p0, float $g1, float $p1, float $g2, float $p2, float $g3, float $p3, float $g4, float $p4, float $g5, float $p5, float $g6, float $p6, float $g7, float $p7, float $g8, float $p8, float $g9, float $p9, float $g10, float $p10, float $g11, float $p11, float $g12, float $p12, float $g13, float $p13, float $g14, float $p14, float $g15, float $p15,
        float $s0, float $s1, float $s2, float $s3, float $s4, float $s5, float $s6, float $s7, float $s8, float $s9, float $s10, float $s11, float $s12, float $s13, float $s14, float $s15,
    ): array {
        // Each line takes in a quarter of all: the matrix neither adds nor loses anything.
        $share = 0.25 / $step;
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
            $s8 += (1.0 - $p8) * ($g8 * $l8[$i] - $s8);
            $s9 += (1.0 - $p9) * ($g9 * $l9[$i] - $s9);
            $s10 += (1.0 - $p10) * ($g10 * $l10[$i] - $s10);
            $s11 += (1.0 - $p11) * ($g11 * $l11[$i] - $s11);
            $s12 += (1.0 - $p12) * ($g12 * $l12[$i] - $s12);
            $s13 += (1.0 - $p13) * ($g13 * $l13[$i] - $s13);
            $s14 += (1.0 - $p14) * ($g14 * $l14[$i] - $s14);
            $s15 += (1.0 - $p15) * ($g15 * $l15[$i] - $s15);
            $left[$i] = $s0 - $s2 + $s4 - $s6 + $s8 - $s10 + $s12 - $s14;
            $right[$i] = $s1 - $s3 + $s5 - $s7 + $s9 - $s11 + $s13 - $s15;
            $a0 = $s0 + $s1;
            $a1 = $s0 - $s1;
            $a2 = $s2 + $s3;
            $a3 = $s2 - $s3;
            $a4 = $s4 + $s5;
            $a5 = $s4 - $s5;
            $a6 = $s6 + $s7;
            $a7 = $s6 - $s7;
            $a8 = $s8 + $s9;
            $a9 = $s8 - $s9;
            $a10 = $s10 + $s11;
            $a11 = $s10 - $s11;
            $a12 = $s12 + $s13;
            $a13 = $s12 - $s13;
            $a14 = $s14 + $s15;
            $a15 = $s14 - $s15;
            $b0 = $a0 + $a2;
            $b2 = $a0 - $a2;
            $b1 = $a1 + $a3;
            $b3 = $a1 - $a3;
            $b4 = $a4 + $a6;
            $b6 = $a4 - $a6;
            $b5 = $a5 + $a7;
            $b7 = $a5 - $a7;
            $b8 = $a8 + $a10;
            $b10 = $a8 - $a10;
            $b9 = $a9 + $a11;
            $b11 = $a9 - $a11;
            $b12 = $a12 + $a14;
            $b14 = $a12 - $a14;
            $b13 = $a13 + $a15;
            $b15 = $a13 - $a15;
            $c0 = $b0 + $b4;
            $c4 = $b0 - $b4;
            $c1 = $b1 + $b5;
            $c5 = $b1 - $b5;
            $c2 = $b2 + $b6;
            $c6 = $b2 - $b6;
            $c3 = $b3 + $b7;
            $c7 = $b3 - $b7;
            $c8 = $b8 + $b12;
            $c12 = $b8 - $b12;
            $c9 = $b9 + $b13;
            $c13 = $b9 - $b13;
            $c10 = $b10 + $b14;
            $c14 = $b10 - $b14;
            $c11 = $b11 + $b15;
            $c15 = $b11 - $b15;
            $d0 = $c0 + $c8;
            $d8 = $c0 - $c8;
            $d1 = $c1 + $c9;
            $d9 = $c1 - $c9;
            $d2 = $c2 + $c10;
            $d10 = $c2 - $c10;
            $d3 = $c3 + $c11;
            $d11 = $c3 - $c11;
            $d4 = $c4 + $c12;
            $d12 = $c4 - $c12;
            $d5 = $c5 + $c13;
            $d13 = $c5 - $c13;
            $d6 = $c6 + $c14;
            $d14 = $c6 - $c14;
            $d7 = $c7 + $c15;
            $d15 = $c7 - $c15;
            $x *= $scale;
            $z *= $scale;
            $l0[] = (int) ($share * $d0 + $x) * $step;
            $l1[] = (int) ($share * $d1 + $z) * $step;
            $l2[] = (int) ($share * $d2 - $x) * $step;
            $l3[] = (int) ($share * $d3 + $z) * $step;
            $l4[] = (int) ($share * $d4 + $x) * $step;
            $l5[] = (int) ($share * $d5 - $z) * $step;
            $l6[] = (int) ($share * $d6 - $x) * $step;
            $l7[] = (int) ($share * $d7 + $z) * $step;
            $l8[] = (int) ($share * $d8 + $x) * $step;
            $l9[] = (int) ($share * $d9 - $z) * $step;
            $l10[] = (int) ($share * $d10 + $x) * $step;
            $l11[] = (int) ($share * $d11 - $z) * $step;
            $l12[] = (int) ($share * $d12 - $x) * $step;
            $l13[] = (int) ($share * $d13 - $z) * $step;
            $l14[] = (int) ($share * $d14 - $x) * $step;
            $l15[] = (int) ($share * $d15 + $z) * $step;
        }

        return [array_values($left), array_values($right), [$l0, $l1, $l2, $l3, $l4, $l5, $l6, $l7, $l8, $l9, $l10, $l11, $l12, $l13, $l14, $l15], [$s0, $s1, $s2, $s3, $s4, $s5, $s6, $s7, $s8, $s9, $s10, $s11, $s12, $s13, $s14, $s15]];
    }
}
