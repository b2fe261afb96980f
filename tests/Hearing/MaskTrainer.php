<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Apart\Bands;
use Pestle\Core\Apart\Cues;
use Pestle\Core\Apart\MaskNetwork;

/**
 * Fits the network that weighs cues, to songs whose cues and shares are kept: gradient steps with moments (Kingma and Ba,
 * 2015) on the cross-entropy of shares, each band by a power of how loud it is. Numbers lie outside PHP's memory.
 */
final class MaskTrainer
{
    private const HIDDEN = 256;
    private const SONGS_A_STEP = 4;
    /** How much loud bands count above soft ones. */
    private const BY_LOUDNESS = 0.7;
    private const RATE = 0.001;

    private readonly int $cues;
    private readonly int $bands;
    private readonly Blas $blas;
    /** @var list<array{int, int, int, int}> of each layer rows, columns, where its weights begin, where its biases */
    private array $layers = [];
    private int $count = 0;
    private \FFI\CData $weights;
    private \FFI\CData $gradient;
    private \FFI\CData $first;
    private \FFI\CData $second;
    private int $steps = 0;
    /** @var array<string, \FFI\CData> what is reused from song to song */
    private array $room = [];
    /** @var list<float> */
    private array $mean = [];
    /** @var list<float> */
    private array $deviation = [];

    public function __construct()
    {
        $this->bands = Bands::count();
        $this->cues = Cues::PER_BAND * $this->bands;
        $this->blas = new Blas();
        $sizes = [[self::HIDDEN, $this->cues], ...array_fill(0, \count(MaskNetwork::STEPS), [self::HIDDEN, 3 * self::HIDDEN]), [4 * $this->bands, self::HIDDEN]];
        foreach ($sizes as [$rows, $columns]) {
            $this->layers[] = [$rows, $columns, $this->count, $this->count + $rows * $columns];
            $this->count += $rows * $columns + $rows;
        }
        [$this->weights, $this->gradient, $this->first, $this->second] = [Blas::floats($this->count), Blas::floats($this->count), Blas::floats($this->count), Blas::floats($this->count)];
        mt_srand(1);
        foreach ($this->layers as $i => [$rows, $columns, $at]) {
            $spread = sqrt(2.0 / $columns) * (0 === $i || \count($sizes) - 1 === $i ? 1.0 : 0.5);
            for ($k = 0; $k < $rows * $columns; ++$k) {
                $this->weights[$at + $k] = 1.7 * $spread * Chance::normal();
            }
        }
    }

    /**
     * @param list<string> $cases paths of kept cues
     * @param list<string> $unmet those that are only looked at
     */
    public function fit(array $cases, array $unmet, int $rounds, string $to): void
    {
        $this->measure($cases);
        $total = $rounds * \count($cases);
        $done = 0;
        $least = \INF;
        for ($round = 0; $round < $rounds; ++$round) {
            mt_srand(100 + $round);
            shuffle($cases);
            $loss = $songs = 0.0;
            foreach ($cases as $i => $path) {
                $loss += $this->song($path, true);
                ++$songs;
                ++$done;
                if (0 === ($i + 1) % self::SONGS_A_STEP) {
                    $share = $done / $total;
                    $this->step(self::RATE * min(1.0, 20.0 * $share) * (0.5 + 0.5 * cos(\M_PI * $share)));
                }
            }
            $other = array_sum(array_map(fn (string $path): float => $this->song($path, false), $unmet)) / max(1, \count($unmet));
            printf("round %d: %.4f, unmet %.4f\n", $round + 1, $loss / $songs, $other);
            if ($other < $least || [] === $unmet) {
                $least = $other;
                $this->keep($to);
            }
        }
    }

    /** @param list<string> $cases */
    private function measure(array $cases): void
    {
        $sum = $square = array_fill(0, $this->cues, 0.0);
        $count = 0;
        foreach (\array_slice($cases, 0, 60) as $path) {
            [$frames, $x] = $this->read($path);
            for ($t = 0; $t < $frames; $t += 5, ++$count) {
                for ($i = 0; $i < $this->cues; ++$i) {
                    $v = $x[$t * $this->cues + $i];
                    $sum[$i] += $v;
                    $square[$i] += $v * $v;
                }
            }
        }
        foreach ($sum as $i => $s) {
            $this->mean[] = $s / $count;
            $this->deviation[] = sqrt(max(1e-4, $square[$i] / $count - ($s / $count) ** 2));
        }
    }

    /** @return array{int, \FFI\CData, \FFI\CData, \FFI\CData} frames, cues, shares, loudness */
    private function read(string $path): array
    {
        $bytes = (string) file_get_contents($path);
        [, $frames] = unpack('V', $bytes) ?: [0, 0];
        $at = 4;
        $out = [];
        foreach ([$this->cues, 4 * $this->bands, $this->bands] as $i => $wide) {
            $values = $this->floats('read'.$i, $frames * $wide);
            \FFI::memcpy($values, substr($bytes, $at, 4 * $frames * $wide), 4 * $frames * $wide);
            $at += 4 * $frames * $wide;
            $out[] = $values;
        }

        return [$frames, ...$out];
    }

    private function floats(string $name, int $count): \FFI\CData
    {
        $known = $this->room[$name] ?? null;
        if (null === $known || \FFI::sizeof($known) < 4 * $count) {
            $this->room[$name] = $known = Blas::floats($count + intdiv($count, 4));
        }

        return $known;
    }

    /** The loss of a song; learned from, its gradient is added. */
    private function song(string $path, bool $learn): float
    {
        [$frames, $cues, $shares, $loudness] = $this->read($path);
        $this->normalise($cues, $frames, $learn);
        $h = self::HIDDEN;
        $pad = max(MaskNetwork::STEPS);
        $rows = $frames + 2 * $pad;
        $ones = $this->floats('ones', $frames);
        for ($t = 0; $t < $frames; ++$t) {
            $ones[$t] = 1.0;
        }
        $last = \count($this->layers) - 1;
        $w = $this->weights;
        // What each layer gave before it was added: [0] is the first layer's, all with rows of nothing around.
        $sums = [];
        $ups = [];
        for ($i = 0; $i < $last; ++$i) {
            $sums[$i] = $this->floats('sum'.$i, $rows * $h);
            \FFI::memset($sums[$i], 0, 4 * $rows * $h);
            $ups[$i] = $this->floats('up'.$i, $frames * $h);
        }
        [$outs, $wide, $at, $bias] = $this->layers[0];
        $this->blas->product(false, false, $frames, $h, 1, $ones, 0, 1, $w, $bias, $h, 0.0, $ups[0], 0, $h);
        $this->blas->product(false, true, $frames, $h, $wide, $cues, 0, $wide, $w, $at, $wide, 1.0, $ups[0], 0, $h);
        self::add($ups[0], null, $sums[0], $pad * $h, $frames * $h);
        foreach (MaskNetwork::STEPS as $k => $step) {
            [, $wide, $at, $bias] = $this->layers[1 + $k];
            $this->blas->product(false, false, $frames, $h, 1, $ones, 0, 1, $w, $bias, $h, 0.0, $ups[1 + $k], 0, $h);
            foreach ([-$step, 0, $step] as $o => $shift) {
                $this->blas->product(false, true, $frames, $h, $h, $sums[$k], ($pad + $shift) * $h, $h, $w, $at + $o * $h, $wide, 1.0, $ups[1 + $k], 0, $h);
            }
            self::add($ups[1 + $k], $sums[$k], $sums[1 + $k], $pad * $h, $frames * $h);
        }
        [$outs, $wide, $at, $bias] = $this->layers[$last];
        $scores = $this->floats('scores', $frames * $outs);
        $this->blas->product(false, false, $frames, $outs, 1, $ones, 0, 1, $w, $bias, $outs, 0.0, $scores, 0, $outs);
        $this->blas->product(false, true, $frames, $outs, $h, $sums[$last - 1], $pad * $h, $h, $w, $at, $wide, 1.0, $scores, 0, $outs);
        $loss = $this->compared($scores, $shares, $loudness, $frames);
        if (!$learn) {
            return $loss;
        }
        $g = $this->gradient;
        $down = $this->floats('down', $rows * $h);
        \FFI::memset($down, 0, 4 * $rows * $h);
        $this->blas->product(true, false, $outs, $wide, $frames, $scores, 0, $outs, $sums[$last - 1], $pad * $h, $h, 1.0, $g, $at, $wide);
        $this->blas->product(true, false, 1, $outs, $frames, $ones, 0, 1, $scores, 0, $outs, 1.0, $g, $bias, $outs);
        $this->blas->product(false, false, $frames, $h, $outs, $scores, 0, $outs, $w, $at, $wide, 0.0, $down, $pad * $h, $h);
        foreach (array_reverse(MaskNetwork::STEPS, true) as $k => $step) {
            [, $wide, $at, $bias] = $this->layers[1 + $k];
            $own = $this->floats('own', $frames * $h);
            self::through($ups[1 + $k], $down, $pad * $h, $own, $frames * $h);
            $this->blas->product(true, false, 1, $h, $frames, $ones, 0, 1, $own, 0, $h, 1.0, $g, $bias, $h);
            foreach ([-$step, 0, $step] as $o => $shift) {
                $this->blas->product(true, false, $h, $h, $frames, $own, 0, $h, $sums[$k], ($pad + $shift) * $h, $h, 1.0, $g, $at + $o * $h, $wide);
            }
            foreach ([-$step, 0, $step] as $o => $shift) {
                $this->blas->product(false, false, $frames, $h, $h, $own, 0, $h, $w, $at + $o * $h, $wide, 1.0, $down, ($pad + $shift) * $h, $h);
            }
        }
        $own = $this->floats('own', $frames * $h);
        self::through($ups[0], $down, $pad * $h, $own, $frames * $h);
        [, $wide, $at, $bias] = $this->layers[0];
        $this->blas->product(true, false, $h, $wide, $frames, $own, 0, $h, $cues, 0, $wide, 1.0, $g, $at, $wide);
        $this->blas->product(true, false, 1, $h, $frames, $ones, 0, 1, $own, 0, $h, 1.0, $g, $bias, $h);

        return $loss;
    }

    /** What is learned from is tilted and bent a little, so that no tone colour is learned by heart. */
    private function normalise(\FFI\CData $cues, int $frames, bool $bend): void
    {
        $more = array_fill(0, $this->cues, 0.0);
        if ($bend) {
            [$tilt, $depth, $turn, $phase] = [Chance::between(-0.3, 0.3), Chance::between(0.0, 0.25), Chance::between(0.02, 0.12), Chance::between(0.0, 6.28)];
            for ($b = 0; $b < $this->bands; ++$b) {
                $more[Cues::PER_BAND * $b] = $tilt * (2.0 * $b / $this->bands - 1.0) + $depth * sin($turn * $b + $phase);
            }
        }
        $n = $this->cues;
        $add = $scale = [];
        foreach ($this->mean as $i => $mean) {
            $scale[] = 1.0 / $this->deviation[$i];
            $add[] = ($more[$i] - $mean) / $this->deviation[$i];
        }
        $clip = MaskNetwork::CLIP;
        for ($t = 0, $at = 0; $t < $frames; ++$t) {
            for ($i = 0; $i < $n; ++$i, ++$at) {
                $x = $cues[$at] * $scale[$i] + $add[$i];
                $cues[$at] = $x > $clip ? $clip : ($x < -$clip ? -$clip : $x);
            }
        }
    }

    /** Cross-entropy of shares; the scores become its gradient. */
    private function compared(\FFI\CData $scores, \FFI\CData $shares, \FFI\CData $loudness, int $frames): float
    {
        $n = $this->bands;
        $loss = $weights = 0.0;
        for ($t = 0; $t < $frames; ++$t) {
            for ($b = 0; $b < $n; ++$b) {
                $loud = $loudness[$t * $n + $b];
                $weight = $loud > 1e-9 ? min(30.0, $loud ** self::BY_LOUDNESS) : 0.0;
                $at = 4 * $t * $n + $b;
                $p = $scores[$at];
                $q = $scores[$at + $n];
                $r = $scores[$at + 2 * $n];
                $s = $scores[$at + 3 * $n];
                $most = max($p, $q, $r, $s);
                $p = exp($p - $most);
                $q = exp($q - $most);
                $r = exp($r - $most);
                $s = exp($s - $most);
                $sum = 1.0 / ($p + $q + $r + $s);
                $p *= $sum;
                $q *= $sum;
                $r *= $sum;
                $s *= $sum;
                $a = $shares[$at];
                $c = $shares[$at + $n];
                $d = $shares[$at + 2 * $n];
                $e = $shares[$at + 3 * $n];
                $loss -= $weight * ($a * log($p + 1e-9) + $c * log($q + 1e-9) + $d * log($r + 1e-9) + $e * log($s + 1e-9));
                $weights += $weight;
                $scores[$at] = $weight * ($p - $a);
                $scores[$at + $n] = $weight * ($q - $c);
                $scores[$at + 2 * $n] = $weight * ($r - $d);
                $scores[$at + 3 * $n] = $weight * ($s - $e);
            }
        }

        return $loss / max(1e-9, $weights);
    }

    /** What is above nothing, added to what was. */
    private static function add(\FFI\CData $up, ?\FFI\CData $before, \FFI\CData $to, int $at, int $count): void
    {
        for ($i = 0; $i < $count; ++$i, ++$at) {
            $x = $up[$i];
            $to[$at] = ($x > 0.0 ? $x : 0.0) + (null === $before ? 0.0 : $before[$at]);
        }
    }

    private static function through(\FFI\CData $up, \FFI\CData $down, int $at, \FFI\CData $own, int $count): void
    {
        for ($i = 0; $i < $count; ++$i, ++$at) {
            $own[$i] = $up[$i] > 0.0 ? $down[$at] : 0.0;
        }
    }

    private function step(float $rate): void
    {
        ++$this->steps;
        $a = 1.0 / (1.0 - 0.9 ** $this->steps);
        $b = 1.0 / (1.0 - 0.999 ** $this->steps);
        $w = $this->weights;
        $g = $this->gradient;
        $first = $this->first;
        $second = $this->second;
        for ($i = 0; $i < $this->count; ++$i) {
            $x = $g[$i];
            $m = 0.9 * $first[$i] + 0.1 * $x;
            $v = 0.999 * $second[$i] + 0.001 * $x * $x;
            $first[$i] = $m;
            $second[$i] = $v;
            $w[$i] = (1.0 - 0.01 * $rate) * $w[$i] - $rate * $m * $a / (sqrt($v * $b) + 1e-7);
        }
        \FFI::memset($g, 0, 4 * $this->count);
    }

    /** As MaskNetwork reads it. */
    private function keep(string $to): void
    {
        $bytes = json_encode(['cues' => $this->cues, 'layers' => array_map(static fn (array $l): array => [$l[0], $l[1]], $this->layers)], \JSON_THROW_ON_ERROR)."\n";
        $bytes .= pack('g*', ...$this->mean).pack('g*', ...$this->deviation);
        foreach ($this->layers as [$rows, $columns, $at, $bias]) {
            for ($r = 0; $r < $rows; ++$r) {
                $row = [];
                for ($c = 0; $c < $columns; ++$c) {
                    $row[] = $this->weights[$at + $r * $columns + $c];
                }
                $step = max(1e-9, ...array_map(abs(...), $row)) / 127.0;
                $bytes .= pack('g2', $step, $this->weights[$bias + $r]).pack('c*', ...array_map(static fn (float $x): int => (int) round($x / $step), $row));
            }
        }
        file_put_contents($to, $bytes);
    }
}
