<?php

namespace Pestle\Core\Audio;

use Pestle\Core\Signal\Window;

/**
 * Filters of a windowed sinc for places between two frames, made when they are first wanted and shared by all that
 * resample at one cut-off. A lower cut-off makes the filters longer and needs fewer of them, so tables are of one size.
 * Window by Kaiser, beta 11 (stop band below -110 dB).
 */
final class SincTable
{
    private const HALF_TAPS = 32;
    private const BETA = 11.0;
    /** Filters a frame at full width; halfway between two, interpolating errs by less than -105 dB up to half the rate. */
    private const PHASES = 512;
    /** Tables that are kept, of 1 MB each when they are full; those used longest ago go first. */
    private const MOST_TABLES = 24;
    /** @var array<string, self> */
    private static array $tables = [];

    /** Frames before and after a place that its filter spans. */
    public readonly int $reach;
    /** @var array<int, list<float>> */
    private array $filters = [];

    private function __construct(private readonly float $cutoff, public readonly int $phases)
    {
        $this->reach = (int) ceil(self::HALF_TAPS / $cutoff);
    }

    /**
     * @param float    $cutoff share of half the source's rate that passes, up to 1
     * @param int|null $phases for places that are always whole ones of so many; else what interpolation needs
     */
    public static function of(float $cutoff, ?int $phases = null): self
    {
        $phases ??= max(16, (int) ceil(self::PHASES * $cutoff));
        $key = $phases.' '.bin2hex(pack('E', $cutoff));
        $table = self::$tables[$key] ?? new self($cutoff, $phases);
        unset(self::$tables[$key]);
        self::$tables[$key] = $table;
        if (\count(self::$tables) > self::MOST_TABLES) {
            array_shift(self::$tables);
        }

        return $table;
    }

    /** @return list<float> 2 × reach taps that add up to 1, from reach - 1 frames before a place on that lies $phase phases behind a frame */
    public function filter(int $phase): array
    {
        return $this->filters[$phase] ??= $this->made($phase);
    }

    /**
     * A signal between two filters' places.
     *
     * @param list<float> $signal
     * @param list<float> $taps
     * @param list<float> $next
     * @param float       $share  how near it is to the second, 0 to 1
     */
    public static function between(array $signal, array $taps, array $next, float $share, int $at): float
    {
        $sum = $after = 0.0;
        foreach ($taps as $k => $tap) {
            $x = $signal[$at++];
            $sum = $tap * $x + $sum;
            $after = $next[$k] * $x + $after;
        }

        return ($after - $sum) * $share + $sum;
    }

    /** @return list<float> */
    private function made(int $phase): array
    {
        $half = self::HALF_TAPS / $this->cutoff;
        $offset = $phase / $this->phases;
        $taps = [];
        $sum = 0.0;
        for ($k = -$this->reach + 1; $k <= $this->reach; ++$k) {
            $x = $k - $offset;
            $t = \M_PI * $x * $this->cutoff;
            $tap = (abs($t) < 1e-12 ? 1.0 : sin($t) / $t) * Window::kaiser($x / $half, self::BETA);
            $taps[] = $tap;
            $sum += $tap;
        }
        foreach ($taps as $i => $tap) {
            $taps[$i] = $tap / $sum;
        }

        return $taps;
    }
}
