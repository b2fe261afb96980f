<?php

namespace Pestle\Core\Signal;

/**
 * How a sound might go on after its end: as it did where it was most like now, over and over, getting softer as it did.
 * Source: waveform substitution, D. J. Goodman et al., "Waveform substitution techniques for recovering missing speech
 * segments in packet voice communications" (IEEE TASSP 1986).
 */
final readonly class Continuation
{
    /** What has to be like now, in frames. */
    private const TEMPLATE = 512;
    /** How much of the end is replaced bit by bit, so that what follows joins without an edge. */
    public const OVER = 128;
    private const SHORTEST_LAG = 96;

    /** @param Fft $fft its size is how far back is looked */
    public function __construct(private Fft $fft)
    {
    }

    /** How far back is looked. */
    public function frames(): int
    {
        return $this->fft->size;
    }

    /**
     * @param non-empty-list<list<float>> $sides the end of a sound, sides of equal length, of twice OVER frames up to as many as are looked at
     *
     * @return non-empty-list<list<float>> for each side its last OVER frames, joined to $count frames that follow
     */
    public function of(array $sides, int $count): array
    {
        $frames = \count($sides[0]);
        $middle = $sides[0];
        foreach (\array_slice($sides, 1) as $side) {
            foreach ($side as $i => $x) {
                $middle[$i] += $x;
            }
        }
        [$lag, $gain] = $this->lag(array_values($middle), min(self::TEMPLATE, intdiv($frames, 3)));

        return array_map(static fn (array $side): array => self::extended($side, $frames, min($lag, $frames - self::OVER), $gain, $count), $sides);
    }

    /**
     * @param list<float> $signal
     *
     * @return array{int, float} how long ago it was most like now, in frames, and how much softer it is now
     */
    private function lag(array $signal, int $template): array
    {
        $frames = \count($signal);
        $now = \array_slice($signal, -$template);
        $most = $frames - $template;
        if ($most < self::SHORTEST_LAG) {
            return [max(1, $most), 0.5];
        }
        [$aRe, $aIm] = $this->fft->forward(array_pad($signal, $this->fft->size, 0.0));
        [$bRe, $bIm] = $this->fft->forward(array_pad($now, $this->fft->size, 0.0));
        foreach ($aRe as $k => $re) {
            $im = $aIm[$k];
            $aRe[$k] = $re * $bRe[$k] + $im * $bIm[$k];
            $aIm[$k] = $im * $bRe[$k] - $re * $bIm[$k];
        }
        $alike = $this->fft->inverse($aRe, $aIm);
        $energies = [0.0];
        foreach ($signal as $i => $x) {
            $energies[] = $energies[$i] + $x * $x;
        }
        $own = $energies[$frames] - $energies[$most];
        [$best, $lag, $there] = [-\INF, $most, 0.0];
        for ($at = 0; $at <= $most - self::SHORTEST_LAG; ++$at) {
            $energy = $energies[$at + $template] - $energies[$at];
            $likeness = $alike[$at] / sqrt($energy + 1e-12);
            if ($likeness > $best) {
                [$best, $lag, $there] = [$likeness, $most - $at, $energy];
            }
        }

        return [$lag, $there > 0.0 ? min(1.0, sqrt($own / $there)) : 0.0];
    }

    /**
     * @param list<float> $side
     *
     * @return list<float>
     */
    private static function extended(array $side, int $frames, int $lag, float $gain, int $count): array
    {
        $start = $frames - self::OVER;
        for ($i = 0; $i < self::OVER; ++$i) {
            $share = 0.5 - 0.5 * cos(\M_PI * ($i + 0.5) / self::OVER);
            $x = $side[$start + $i];
            $side[$start + $i] = $x + ($side[$start + $i - $lag] * $gain - $x) * $share;
        }
        for ($i = $frames, $end = $frames + $count; $i < $end; ++$i) {
            $side[] = $side[$i - $lag] * $gain;
        }

        return \array_slice($side, $start);
    }
}
