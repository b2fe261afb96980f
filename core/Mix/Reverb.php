<?php

namespace Pestle\Core\Mix;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Grid;

/**
 * Eight delay lines that feed each other through a Hadamard matrix, each with a low-pass of first order that gives lows
 * and highs their time to ring; before them all-passes that make many echoes of one, and the first walls, which are
 * heard by themselves. What goes round is cut to the grid towards nothing, so that it ends.
 * Sources: J.-M. Jot and A. Chaigne, "Digital delay networks for designing artificial reverberators" (AES 1991), for the
 * network and its low-passes; M. R. Schroeder, "Natural sounding artificial reverberation" (JAES 1962), for the all-passes.
 */
final readonly class Reverb implements Insert
{
    /** Of the eight lines, in ms at size 1: no two have much in common. */
    private const LINES_MS = [31.7, 36.1, 41.3, 45.9, 51.7, 57.1, 63.3, 69.7];
    /** All-passes before them, by side: ms and how much. */
    private const SPREAD = [[[4.77, 0.7], [9.31, 0.7], [21.1, 0.6]], [[3.59, 0.7], [12.73, 0.7], [18.3, 0.6]]];
    /** First walls by side: ms at size 1, level, and from which side the sound comes. */
    private const WALLS = [
        [[7.1, 0.62, 0], [11.9, 0.55, 1], [19.7, 0.47, 0], [27.3, 0.38, 1], [35.9, 0.31, 0], [45.1, 0.25, 1]],
        [[8.9, 0.62, 1], [13.3, 0.55, 0], [21.9, 0.47, 1], [25.1, 0.38, 0], [38.3, 0.31, 1], [43.7, 0.25, 0]],
    ];
    /** What the lines bring together is this much louder than one of them. */
    private const LEVEL = 0.42;

    /** @var list<int> frames of the lines */
    private array $lines;
    /** @var list<float> gain and pole of the low-pass of each line */
    private array $losses;
    /** @var list<list<array{int, float}>> frames and gain of the all-passes by side */
    private array $spread;
    /** @var list<list<array{int, float, int}>> frames, gain and side of the walls by side */
    private array $walls;
    private int $before;
    private int $memory;
    private float $thin;
    private float $wet;
    private float $dry;
    private float $late;
    private float $across;

    public function __construct(ReverbSettings $settings, float $sampleRate)
    {
        $frames = static fn (float $ms): int => max(1, (int) round($ms * $sampleRate / 1000.0));
        $lines = $losses = [];
        foreach (self::LINES_MS as $ms) {
            $lines[] = $n = $frames($ms * $settings->size);
            $gain = 10.0 ** (-3.0 * $n / ($settings->decay * $sampleRate));
            // The pole at which the highest frequency rings for its share of the time (Jot and Chaigne, first order).
            $pole = max(0.0, min(0.98, 0.25 * log(10.0) * log10($gain) * (1.0 - 1.0 / (0.01 * $settings->highs) ** 2)));
            array_push($losses, $gain, $pole);
        }
        [$this->lines, $this->losses] = [$lines, $losses];
        $this->spread = array_map(static fn (array $side): array => array_map(static fn (array $s): array => [$frames($s[0]), 0.01 * $settings->density * $s[1]], $side), self::SPREAD);
        $this->before = (int) round($settings->preDelayMs * $sampleRate / 1000.0);
        $walls = [];
        foreach (self::WALLS as $side) {
            $walls[] = array_map(fn (array $w): array => [$this->before + $frames($w[0] * $settings->size), 0.01 * $settings->early * $w[1], $w[2]], $side);
        }
        $this->walls = $walls;
        $this->memory = max(array_column([...$walls[0], ...$walls[1]], 0));
        $this->thin = OnePole::share($settings->lowCutHz, $sampleRate);
        $this->wet = sin(0.005 * \M_PI * $settings->mix);
        $this->dry = $settings->direct ? cos(0.005 * \M_PI * $settings->mix) : 0.0;
        // The first walls take from what rings.
        $this->late = self::LEVEL * cos(0.0025 * \M_PI * $settings->early);
        $this->across = 0.5 - 0.005 * $settings->width;
    }

    /** The low-passes of the lines, then the high-pass of both sides. */
    public function rest(): InsertState
    {
        return new InsertState(array_fill(0, \count(self::LINES_MS) + 2, 0.0));
    }

    public function process(StereoBlock $in, ?StereoBlock $key, InsertState $state, int $at): array
    {
        $n = $in->frames();
        [$before, $lines] = $this->remembered($state->memory);
        $sound = [[...$before[0], ...$in->left], [...$before[1], ...$in->right]];
        $feed = $early = [[], []];
        foreach ([0, 1] as $side) {
            $early[$side] = self::walls($sound[0], $sound[1], $n, $this->memory, $this->walls[$side]);
            $k = 3 * $side;
            [[$a, $g], [$b, $h], [$c, $l]] = $this->spread[$side];
            [$feed[$side], $lines[$k], $lines[$k + 1], $lines[$k + 2]] = self::spread(\array_slice($sound[$side], $this->memory - $this->before, $n), $lines[$k], $lines[$k + 1], $lines[$k + 2], $g, $h, $l, $a, $b, $c, Memory::STEP);
        }
        $k = 6;
        [$left, $right, $rung, $numbers] = self::ring($feed[0], $feed[1], \array_slice($lines, $k), $this->losses, \array_slice($state->numbers, 0, -2));
        [$low, $high] = \array_slice($state->numbers, -2);
        [$left, $low] = self::together($in->left, $left, $right, $early[0], $early[1], $this->dry, $this->wet, $this->late, $this->across, $this->thin, $low, Grid::SOUND);
        [$right, $high] = self::together($in->right, $right, \array_slice($rung, 8)[0], $early[1], $early[0], $this->dry, $this->wet, $this->late, $this->across, $this->thin, $high, Grid::SOUND);
        $lines = [...\array_slice($lines, 0, $k), ...\array_slice($rung, 0, 8)];
        $kept = [\array_slice($sound[0], -$this->memory), \array_slice($sound[1], -$this->memory), ...$lines];

        return [new StereoBlock($left, $right), new InsertState(Grid::state([...$numbers, $low, $high]), Memory::whole($kept)), null];
    }

    /** @return array{array{list<float>, list<float>}, list<list<float>>} both sides of what came in last; all-passes and lines */
    private function remembered(?Memory $memory): array
    {
        $sizes = [$this->memory, $this->memory, ...array_column($this->spread[0], 0), ...array_column($this->spread[1], 0), ...$this->lines];
        $all = $memory?->lines() ?? [];
        if (array_map(\count(...), $all) !== $sizes) {
            $all = array_map(static fn (int $size): array => array_fill(0, $size, 0.0), $sizes);
        }

        return [[$all[0], $all[1]], \array_slice($all, 2)];
    }

    /**
     * @param list<float>                  $left  with what was before
     * @param list<float>                  $right
     * @param list<array{int, float, int}> $walls
     *
     * @return list<float>
     */
    private static function walls(array $left, array $right, int $count, int $memory, array $walls): array
    {
        $from = static fn (int $k): array => 0 === $walls[$k][2] ? $left : $right;

        return 0.0 === $walls[0][1] ? array_fill(0, $count, 0.0) : self::six(
            $from(0), $from(1), $from(2), $from(3), $from(4), $from(5), $count,
            $memory - $walls[0][0], $memory - $walls[1][0], $memory - $walls[2][0], $memory - $walls[3][0], $memory - $walls[4][0], $memory - $walls[5][0],
            $walls[0][1], $walls[1][1], $walls[2][1], $walls[3][1], $walls[4][1], $walls[5][1],
        );
    }

    /**
     * @param list<float> $a
     * @param list<float> $b
     * @param list<float> $c
     * @param list<float> $d
     * @param list<float> $e
     * @param list<float> $f
     *
     * @return list<float>
     */
    private static function six(
        array $a, array $b, array $c, array $d, array $e, array $f, int $count, int $ia, int $ib, int $ic, int $id, int $ie, int $if,
        float $ga, float $gb, float $gc, float $gd, float $ge, float $gf,
    ): array {
        $out = [];
        for ($i = 0; $i < $count; ++$i) {
            $out[] = $ga * $a[$ia + $i] + $gb * $b[$ib + $i] + $gc * $c[$ic + $i] + $gd * $d[$id + $i] + $ge * $e[$ie + $i] + $gf * $f[$if + $i];
        }

        return $out;
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
     * @param list<float>       $left
     * @param list<float>       $right
     * @param list<list<float>> $lines
     * @param list<float>       $losses
     * @param list<float>       $state  of the low-passes
     *
     * @return array{list<float>, list<float>, list<list<float>>, list<float>} both sides, what the lines remember (and the left side again), state
     */
    private static function ring(array $left, array $right, array $lines, array $losses, array $state): array
    {
        $sizes = array_map(\count(...), $lines);
        $out = self::round($left, $right, $lines[0], $lines[1], $lines[2], $lines[3], $lines[4], $lines[5], $lines[6], $lines[7], Memory::STEP, ...$losses, ...$state);
        foreach ($sizes as $k => $size) {
            $out[2][$k] = \array_slice($out[2][$k], -$size);
        }
        $out[2][8] = $out[0];

        return [$out[0], $out[1], array_values($out[2]), $out[3]];
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

    /**
     * @param list<float> $dry
     * @param list<float> $own   what rings on this side, and on the other
     * @param list<float> $other
     * @param list<float> $early
     * @param list<float> $there first walls of the other side
     *
     * @return array{list<float>, float}
     */
    private static function together(array $dry, array $own, array $other, array $early, array $there, float $itself, float $wet, float $late, float $across, float $thin, float $low, float $grid): array
    {
        $here = 1.0 - $across;
        for ($i = 0, $n = \count($dry); $i < $n; ++$i) {
            $x = $dry[$i];
            if (!\is_float($x)) {
                throw new \TypeError('Sound is floats.');
            }
            $y = $late * ($here * $own[$i] + $across * $other[$i]) + $here * $early[$i] + $across * $there[$i];
            $low += $thin * ($y - $low);
            $dry[$i] = ($itself * $x + $wet * ($y - $low) + $grid) - $grid;
        }

        return [array_values($dry), $low];
    }
}
