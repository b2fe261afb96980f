<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Signal\Noise;

/**
 * One round of waves as tables, each with no more partials than fit below the limit of hearing at the pitch it is read at, so that
 * nothing folds back. Read between two values: partials so far below the table's length are exact to 85 dB under the strongest.
 * Source: J. O. Smith, "Digital audio resampling" (CCRMA, on linear interpolation); A. Franck and V. Välimäki, "Higher-order integrated wavetable synthesis" (DAFx 2012).
 */
final class Wavetables
{
    public const SIZE = 8192;
    /** Of noise, which goes round after three seconds. */
    public const NOISE = 131_072;
    public const HIGHEST_HZ = 20_000.0;
    private const MOST = 700;
    private const KEPT = 400;
    private const FINE = 65_536;

    /** @var array<string, list<float>> */
    private array $tables = [];

    /** How many partials fit at a frequency: a quarter of an octave apart, so that notes beside each other share. */
    public static function partials(float $hz, float $mostHz = self::HIGHEST_HZ): int
    {
        $most = max(1.0, min((float) self::MOST, $mostHz / max(1.0, $hz)));

        return (int) (2.0 ** (floor(4.0 * log($most, 2) + 1e-9) / 4.0));
    }

    /**
     * @param float $restarted how often a wave goes round until it begins anew; 1 where it is left alone
     *
     * @return list<float> SIZE values, and the first again
     */
    public function of(Wave $wave, int $partials, float $restarted = 1.0): array
    {
        $drawn = WaveKind::Partials === $wave->kind ? implode(' ', $wave->partials) : '';
        $key = implode(' ', [$wave->kind->value, $partials, $drawn, $restarted, 1.0 === $restarted || WaveKind::Pulse !== $wave->kind ? '' : $wave->width]);
        if (!isset($this->tables[$key])) {
            $this->tables = \count($this->tables) < self::KEPT ? $this->tables : [];
            $this->tables[$key] = 1.0 === $restarted ? self::summed(self::amplitudes($wave, $partials)) : $this->restarted($wave, $partials, $restarted);
        }

        return $this->tables[$key];
    }

    /**
     * White noise made darker: it falls by up to 12 dB an octave from 150 Hz on.
     *
     * @return list<float> NOISE values
     */
    public function noise(float $bright, int $side): array
    {
        $key = 'noise '.round($bright, 2).' '.$side;
        if (!isset($this->tables[$key])) {
            [$re, $im] = (new Fft(self::NOISE))->forward((new Noise(71 + $side))->block(self::NOISE));
            $power = 0.0;
            foreach ($re as $k => $r) {
                $hz = $k * 44100.0 / self::NOISE;
                $gain = $hz < 20.0 ? 0.0 : max(1.0, $hz / 150.0) ** (-2.0 * (1.0 - $bright));
                $re[$k] = $r * $gain;
                $im[$k] *= $gain;
                $power += 2.0 * ($re[$k] ** 2 + $im[$k] ** 2);
            }
            $scale = 0.3 * self::NOISE / sqrt($power);
            $this->tables[$key] = array_map(static fn (float $x): float => $x * $scale, (new Fft(self::NOISE))->inverse($re, $im));
        }

        return $this->tables[$key];
    }

    /** @return list<float> of sines, from the first partial on */
    private static function amplitudes(Wave $wave, int $partials): array
    {
        $amplitude = match ($wave->kind) {
            WaveKind::Sine => static fn (int $h): float => 1 === $h ? 1.0 : 0.0,
            WaveKind::Triangle => static fn (int $h): float => 0 === $h % 2 ? 0.0 : (1 === $h % 4 ? 8.0 : -8.0) / (\M_PI * $h) ** 2,
            WaveKind::Partials => static fn (int $h): float => $wave->partials[$h - 1] ?? 0.0,
            default => static fn (int $h): float => 2.0 / (\M_PI * $h),
        };

        return array_map($amplitude, range(1, $partials));
    }

    /**
     * @param list<float> $sines
     * @param list<float> $cosines
     *
     * @return list<float>
     */
    private static function summed(array $sines, array $cosines = []): array
    {
        $re = $im = array_fill(0, self::SIZE / 2 + 1, 0.0);
        foreach ($sines as $k => $a) {
            $im[$k + 1] = -0.5 * self::SIZE * $a;
            $re[$k + 1] = 0.5 * self::SIZE * ($cosines[$k] ?? 0.0);
        }
        $table = (new Fft(self::SIZE))->inverse($re, $im);

        return [...$table, $table[0]];
    }

    /**
     * A wave that begins anew before it has gone round a whole number of times is periodic with what restarts it: its partials are those of one such round.
     *
     * @return list<float>
     */
    private function restarted(Wave $wave, int $partials, float $often): array
    {
        $round = [];
        for ($i = 0; $i < self::FINE; ++$i) {
            $place = fmod($often * $i / self::FINE, 1.0);
            $round[] = match ($wave->kind) {
                WaveKind::Sine => sin(2.0 * \M_PI * $place),
                WaveKind::Triangle => $place < 0.25 ? 4.0 * $place : ($place < 0.75 ? 2.0 - 4.0 * $place : 4.0 * $place - 4.0),
                WaveKind::Pulse => $place < 0.01 * $wave->width ? 1.0 : -1.0,
                default => 1.0 - 2.0 * $place,
            };
        }
        [$re, $im] = (new Fft(self::FINE))->forward($round);
        $scale = 2.0 / self::FINE;
        $at = range(1, $partials);

        return self::summed(array_map(static fn (int $h): float => -$im[$h] * $scale, $at), array_map(static fn (int $h): float => $re[$h] * $scale, $at));
    }
}
