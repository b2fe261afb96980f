<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Window;

/**
 * Changes the length of a sound without its pitch. Spectra are taken along the source and laid down at even steps;
 * each peak of the spectrum goes on with the phase its frequency calls for, and the bins around it turn with it, on
 * both sides alike. Where source and result run at the same speed from the start on, the result is the source itself.
 * Source: J. Laroche and M. Dolson, "Improved phase vocoder time-scale modification of audio" (IEEE TSAP 1999).
 */
final class PhaseVocoder
{
    public readonly Fft $fft;
    /** Frames from one spectrum to the next in the result. */
    public readonly int $hop;
    /** @var list<float> */
    private readonly array $window;
    private int $before = 0;
    /** @var array<int, float> the middle's spectrum at the place before, empty at the start */
    private array $re = [];
    /** @var array<int, float> */
    private array $im = [];
    /** @var array{int, float}|null bin and place, in bins, of a peak so low that it reaches into bin 0 */
    private ?array $lowest = null;
    /** @var list<float> by how much every bin was turned */
    private array $turned = [];
    /** @var list<array{int, int}> peak of each stretch of bins that turn alike, and the bin it ends before */
    private array $regions = [];
    /** @var list<float> by how much every bin turns beside that, for a while */
    private array $owed = [];

    public function __construct(int $size)
    {
        $this->fft = new Fft($size);
        $this->hop = intdiv($size, 4);
        $this->window = Window::hann($size);
    }

    public function size(): int
    {
        return $this->fft->size;
    }

    private function restart(): void
    {
        $this->re = $this->im = $this->turned = $this->regions = $this->owed = [];
        $this->lowest = null;
    }

    /**
     * Starts anew at a place that goes on from what was: phases are the source's from here on, and what they were turned by
     * is made up for bit by bit (see step()). So what comes later depends on no more than where it was last started.
     *
     * @param StereoBlock $piece as step() takes it
     */
    public function startAnew(StereoBlock $piece, int $at): void
    {
        $this->follow($piece, $at);
        $owed = array_map(static fn (float $turn): float => $turn - 2.0 * \M_PI * round($turn / (2.0 * \M_PI)), $this->turned);
        $this->restart();
        $this->owed = $owed;
    }

    /** As step(), for a piece that need not be heard. */
    public function follow(StereoBlock $piece, int $at): void
    {
        $this->analysed($piece, $at);
    }

    /** A piece as it is, windowed twice; what comes next starts anew from it. */
    public function through(StereoBlock $piece): StereoBlock
    {
        $this->restart();
        $left = self::windowed(self::windowed($piece->left, $this->window), $this->window);

        return new StereoBlock($left, $piece->left === $piece->right ? $left : self::windowed(self::windowed($piece->right, $this->window), $this->window));
    }

    /**
     * The next spectrum's worth of the result, windowed twice; the caller adds it HOP after the one before.
     *
     * @param StereoBlock $piece SIZE frames of the source
     * @param int         $at    where they lie in it; only differences matter
     * @param float       $share of what was owed when it was started anew, 1 to 0
     */
    public function step(StereoBlock $piece, int $at, float $share = 0.0): StereoBlock
    {
        [$lRe, $lIm, $rRe, $rIm] = $this->analysed($piece, $at);
        $turns = [] === $this->owed ? $this->turned : $this->withOwed($share);
        $left = self::windowed($this->turnedBack($lRe, $lIm, $turns), $this->window);

        return new StereoBlock($left, $piece->left === $piece->right ? $left : self::windowed($this->turnedBack($rRe, $rIm, $turns), $this->window));
    }

    /**
     * Looks at a piece and finds by how much its bins are turned.
     *
     * @return array{list<float>, list<float>, list<float>, list<float>} spectra of both sides
     */
    private function analysed(StereoBlock $piece, int $at): array
    {
        $mono = $piece->left === $piece->right;
        [$lRe, $lIm] = $this->fft->forward(self::windowed($piece->left, $this->window));
        [$rRe, $rIm] = $mono ? [$lRe, $lIm] : $this->fft->forward(self::windowed($piece->right, $this->window));
        [$re, $im] = [$lRe, $lIm];
        if (!$mono) {
            foreach ($re as $k => $x) {
                $re[$k] = $x + $rRe[$k];
                $im[$k] += $rIm[$k];
            }
        }
        $turns = [] === $this->re ? array_fill(0, \count($re), 0.0) : $this->turns($re, $im, (float) ($at - $this->before));
        [$this->re, $this->im, $this->turned, $this->before] = [$re, $im, $turns, $at];

        return [$lRe, $lIm, $rRe, $rIm];
    }

    /** @return list<float> by how much bins turn, with a share of what is owed; those around a peak stay together */
    private function withOwed(float $share): array
    {
        $turns = $this->turned;
        if ([] === $this->regions) {
            foreach ($turns as $k => $turn) {
                $turns[$k] = $turn + $share * $this->owed[$k];
            }

            return array_values($turns);
        }
        $from = 0;
        foreach ($this->regions as [$peak, $end]) {
            $more = $share * $this->owed[$peak];
            for ($k = $from; $k < $end; ++$k) {
                $turns[$k] += $more;
            }
            $from = $end;
        }

        return array_values($turns);
    }

    /**
     * By how much each bin has to turn: what its peak's frequency calls for over a hop of the result.
     *
     * @param array<int, float> $re
     * @param array<int, float> $im
     *
     * @return list<float> radians
     */
    private function turns(array $re, array $im, float $moved): array
    {
        $bins = \count($re);
        $power = [];
        foreach ($re as $k => $x) {
            $power[] = $x * $x + $im[$k] * $im[$k];
        }
        $peaks = [];
        // Of what lies below the first bin, the spectrum shows the mirror image.
        for ($k = 1; $k < $bins - 2; ++$k) {
            $p = $power[$k];
            if ($p > $power[$k - 1] && $p >= $power[$k + 1] && (1 === $k || $p > $power[$k - 2]) && $p >= $power[$k + 2]) {
                $peaks[] = $k;
            }
        }
        $this->lowest = null;
        $this->regions = [];
        if ([] === $peaks) {
            return $this->turned;
        }
        $turns = [];
        $circle = 2.0 * \M_PI;
        $hop = (float) $this->hop;
        foreach ($peaks as $i => $k) {
            $phase = atan2($im[$k], $re[$k]);
            $then = atan2($this->im[$k], $this->re[$k]);
            $expected = $circle * $k / $this->fft->size;
            $off = $phase - $then - $expected * $moved;
            $off -= $circle * round($off / $circle);
            $turn = $then + $this->turned[$k] + ($expected + $off / $moved) * $hop - $phase;
            $turn -= $circle * round($turn / $circle);
            $beside = $off / $moved * $this->fft->size / $circle;
            if ($k < 4 && 0 === $i && abs($beside) < 0.75) {
                $this->lowest = [$k, $k + $beside];
            }
            $end = isset($peaks[$i + 1]) ? intdiv($k + $peaks[$i + 1] + 1, 2) : $bins;
            for ($b = \count($turns); $b < $end; ++$b) {
                $turns[] = $turn;
            }
            $this->regions[] = [$k, $end];
        }

        return $turns;
    }

    /**
     * @param list<float> $re
     * @param list<float> $im
     * @param list<float> $turns
     *
     * @return list<float>
     */
    private function turnedBack(array $re, array $im, array $turns): array
    {
        [$bottom, $before] = [$re[0], $re];
        $last = 0.0;
        $c = 1.0;
        $s = 0.0;
        foreach ($re as $k => $x) {
            if ($turns[$k] !== $last) {
                $last = $turns[$k];
                $c = cos($last);
                $s = sin($last);
            }
            $y = $im[$k];
            $re[$k] = $x * $c - $y * $s;
            $im[$k] = $x * $s + $y * $c;
        }
        // The spectrum of real values is real at both ends.
        $im[0] = $im[\count($im) - 1] = 0.0;
        if (null !== $this->lowest) {
            [$peak, $bin] = $this->lowest;
            // Bin 0 is a tone of a few periods and its mirror image in one, which turn against each other: it goes with the tone's peak.
            $share = self::lobe($bin) / self::lobe($bin - $peak) * (0 === $peak % 2 ? 2.0 : -2.0);
            $re[0] = $bottom + $share * ($re[$peak] - $before[$peak]);
        }

        return $this->fft->inverse($re, $im);
    }

    /** The spectrum of a Hann window, so many bins beside its middle, which is 1. */
    private static function lobe(float $bins): float
    {
        $x = \M_PI * $bins;

        return match (true) {
            abs($bins) < 1e-6 => 1.0,
            abs(abs($bins) - 1.0) < 1e-6 => 0.5,
            default => sin($x) / $x / (1.0 - $bins * $bins),
        };
    }

    /**
     * @param list<float> $signal
     * @param list<float> $window
     *
     * @return list<float>
     */
    private static function windowed(array $signal, array $window): array
    {
        foreach ($signal as $i => $x) {
            $signal[$i] = $x * $window[$i];
        }

        return $signal;
    }
}
