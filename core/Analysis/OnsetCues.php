<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Signal\Peak;

/**
 * What tells whether a peak of the onset strength is a hit: how loud eight bands are before and after it, and how the strength
 * itself goes on around it. A fitted network weighs it (`bin/hearing`); frames are fed in one by one, so that no more
 * than a quarter of a second is held.
 */
final class OnsetCues
{
    /** Lower edges of the bands. */
    public const EDGES_HZ = [0, 100, 250, 600, 1500, 3500, 6000, 10000];
    /** A peak is looked at when so many frames after it are known, with so many before it. */
    private const AFTER = 12;
    private const BEFORE = 30;
    /** Peaks are the largest among so many frames on both sides. */
    private const AROUND = 4;
    private const LEAST = 0.02;

    /** Steps of a millisecond around a peak in which its attack is looked for, and how far around that. */
    private const ATTACK = [-16, 10];
    private const MARGIN = [14, 24];

    private ?AudioSource $source = null;
    /** Frames of the source from one value to the next. */
    private int $hop = 1;
    private float $peak = 1.0;
    private int $frame = -1;
    /** @var array<int, list<float>> by frame */
    private array $levels = [];
    /** @var array<int, float> */
    private array $all = [];
    /** @var array<int, float> */
    private array $high = [];
    /** @var array<int, float> log odds that there is a hit, by the frame of a peak */
    public array $odds = [];
    /** @var array<int, list<float>> what was weighed, for those who fit it */
    public array $kept = [];

    public function __construct(private readonly bool $keeps = false)
    {
        $silence = array_fill(0, \count(self::EDGES_HZ), 0.0);
        for ($i = -self::BEFORE; $i < 0; ++$i) {
            [$this->levels[$i], $this->all[$i], $this->high[$i]] = [$silence, 0.0, 0.0];
        }
    }

    /** What is listened to, and the largest value in it. */
    public function over(AudioSource $source, int $hop, float $peak): void
    {
        [$this->source, $this->hop, $this->peak] = [$source, $hop, max(1e-9, $peak)];
    }

    /**
     * @param float       $all    onset strength of a frame
     * @param float       $high   that of the highs
     * @param list<float> $levels mean of the logarithmic magnitudes in each band
     */
    public function add(float $all, float $high, array $levels): void
    {
        $n = ++$this->frame;
        [$this->levels[$n], $this->all[$n], $this->high[$n]] = [$levels, $all, $high];
        $old = $n - self::BEFORE - self::AFTER - 1;
        unset($this->levels[$old], $this->all[$old], $this->high[$old]);
        $i = $n - self::AFTER;
        if ($i < 0 || $this->all[$i] < self::LEAST || $this->all[$i] < $this->most($i - self::AROUND, $i + self::AROUND)) {
            return;
        }
        $cues = $this->cues($i);
        if ($this->keeps) {
            $this->kept[$i] = $cues;

            return;
        }
        [$none, $hit] = Fitted::network('onsets')->outputs($cues);
        $this->odds[$i] = $hit - $none;
    }

    /** Silence follows. */
    public function end(): void
    {
        for ($k = 0; $k < self::AFTER; ++$k) {
            $this->add(0.0, 0.0, array_fill(0, \count(self::EDGES_HZ), 0.0));
        }
    }

    /** @return list<float> */
    private function cues(int $i): array
    {
        $out = [];
        $long = $this->mean($i - 12, $i - 6);
        $late = $this->mean($i + 6, $i + 10);
        [$before, $now, $soon] = [$this->levels[$i - 3], $this->levels[$i + 1], $this->levels[$i + 4]];
        foreach ($now as $b => $level) {
            array_push($out, $level, $level - $before[$b], $soon[$b] - $before[$b], $late[$b] - $level, $before[$b] - $long[$b]);
        }
        for ($k = $i - self::AROUND; $k <= $i + self::AROUND; ++$k) {
            $out[] = self::log($this->all[$k]);
        }
        for ($k = $i - 1; $k <= $i + 1; ++$k) {
            $out[] = self::log($this->high[$k]);
        }
        $past = [];
        for ($k = $i - 16; $k < $i; ++$k) {
            $past[] = $this->all[$k];
        }
        $out[] = self::log(array_sum($past) / 16.0);
        $out[] = self::log($this->most($i - 12, $i - 5));
        $out[] = self::log($this->most($i - self::BEFORE, $i - 13));
        $out[] = self::log($this->most($i + 5, $i + 11));

        return [...$out, ...$this->attack($i * $this->hop)];
    }

    /**
     * How abrupt the sound is around a frame, by the energy of its differences (so that highs count as much as lows) in steps of a
     * millisecond: the greatest of them, against what follows soon, what follows later, and what was before. A crackle is
     * over at once.
     *
     * @return list<float>
     */
    private function attack(int $frame): array
    {
        if (null === $this->source) {
            return [0.0, 0.0, 0.0, 0.0];
        }
        $step = max(1, (int) ($this->source->sampleRate() * 0.001));
        [$from, $to] = [self::ATTACK[0] - self::MARGIN[0], self::ATTACK[1] + self::MARGIN[1]];
        $block = $this->source->read($frame + $from * $step - 1, ($to - $from) * $step + 1);
        $energy = array_fill(0, $to - $from, 1e-8);
        $scale = 1.0 / $this->peak / sqrt($step);
        $before = ($block->left[0] + $block->right[0]) * $scale;
        foreach ($block->left as $i => $l) {
            $x = ($l + $block->right[$i]) * $scale;
            $energy[$i > 0 ? intdiv($i - 1, $step) : 0] += ($x - $before) * ($x - $before);
            $before = $x;
        }
        $at = self::MARGIN[0];
        for ($k = $at, $end = $at + self::ATTACK[1] - self::ATTACK[0]; $k < $end; ++$k) {
            $at = $energy[$k] > $energy[$at] ? $k : $at;
        }
        $mean = static fn (int $from, int $to): float => log(array_sum(\array_slice($energy, $at + $from, $to - $from)) / ($to - $from));

        return [$most = log($energy[$at]), $most - $mean(2, 6), $most - $mean(8, 24), $most - $mean(-14, -3)];
    }

    /** @return list<float> mean levels of the bands */
    private function mean(int $from, int $to): array
    {
        $sum = array_fill(0, \count(self::EDGES_HZ), 0.0);
        for ($k = $from; $k <= $to; ++$k) {
            foreach ($this->levels[$k] as $b => $level) {
                $sum[$b] += $level / ($to - $from + 1);
            }
        }

        return array_values($sum);
    }

    private function most(int $from, int $to): float
    {
        $values = [];
        for ($k = $from; $k <= $to; ++$k) {
            $values[] = $this->all[$k];
        }

        return Peak::of($values);
    }

    private static function log(float $x): float
    {
        return log($x + 0.02);
    }
}
