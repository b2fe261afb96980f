<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveKind;

/**
 * Things that are struck or plucked once, as the modes they ring in: frequencies against the lowest, how strongly each is met, and how fast it dies.
 * Sources: N. H. Fletcher and T. D. Rossing, "The Physics of Musical Instruments" (1998): stiff string (2.5), free bar (2.16), simply supported plate (3.9),
 * ideal circular membrane (3.2), tube closed at one end (8.2).
 */
final class Modes
{
    private const BAR = [1.0, 2.7565, 5.4039, 8.9330, 13.3443, 18.6379, 24.8138];
    /** Zeros of Bessel functions against the first, without modes that a stroke in the middle would miss. */
    private const SKIN = [1.0, 1.5933, 2.1355, 2.2954, 2.6531, 2.9173, 3.1555, 3.5001, 3.5985, 3.6475, 4.0589, 4.1317, 4.2304, 4.6010, 4.8319, 4.9033];
    private const TUBE_MODES = 14;
    private const STRING_MODES = 48;
    /** How much a string is stretched by its stiffness. */
    private const STIFF = 0.00006;
    /** By how much faster higher modes die, against their ratio, for the darkest and the brightest. */
    private const FASTER = ['string' => 0.28, 'bar' => 0.5, 'plate' => 0.12, 'skin' => 0.55, 'tube' => 0.9];
    private const HIGHEST_HZ = 19_000.0;
    /** What lies so far below is not heard. */
    private const LEAST = 3e-5;

    /**
     * @param float $hz of its lowest mode
     *
     * @return list<array{float, float, float}> Hz, amplitude, and seconds in which it falls by 60 dB
     */
    public static function of(Wave $wave, float $hz): array
    {
        $seconds = ($wave->decayMs > 0.0 ? $wave->decayMs : Wave::RINGS_MS) / 1000.0;
        $faster = (self::FASTER[$wave->kind->value] ?? 0.3) * (1.6 - 1.2 * $wave->bright);
        $modes = [];
        $sum = 0.0;
        foreach (self::ratios($wave->kind) as $i => $ratio) {
            if ($ratio * $hz > self::HIGHEST_HZ) {
                continue;
            }
            $met = match ($wave->kind) {
                // A pluck at a place of the string: the modes with a node there stay silent.
                WaveKind::String => sin(\M_PI * ($i + 1) * 0.01 * $wave->width) / ($i + 1) ** (1.7 - $wave->bright),
                WaveKind::Tube => 1.0 / ($i + 1) ** (1.8 - 1.2 * $wave->bright),
                default => 1.0 / $ratio ** (2.0 - 1.8 * $wave->bright),
            };
            $sum += abs($met);
            $modes[] = [$ratio * $hz, $met, $seconds / (1.0 + $faster * ($ratio - 1.0))];
        }
        $scale = 1.0 / max(1e-9, $sum) ** 0.7;

        return array_map(static fn (array $m): array => [$m[0], $scale * $m[1], $m[2]], $modes);
    }

    /** @return list<float> */
    private static function ratios(WaveKind $kind): array
    {
        return match ($kind) {
            WaveKind::Bar => self::BAR,
            WaveKind::Skin => self::SKIN,
            WaveKind::Plate => self::plate(),
            WaveKind::Tube => array_map(static fn (int $k): float => 2.0 * $k - 1.0, range(1, self::TUBE_MODES)),
            default => array_map(static fn (int $h): float => $h * sqrt((1.0 + self::STIFF * $h ** 2) / (1.0 + self::STIFF)), range(1, self::STRING_MODES)),
        };
    }

    /** @return list<float> m² + n² of a square plate, against the lowest */
    private static function plate(): array
    {
        $ratios = [];
        foreach (range(1, 6) as $m) {
            foreach (range($m, 6) as $n) {
                $ratios[] = ($m ** 2 + $n ** 2) / 2.0;
            }
        }
        sort($ratios);

        return array_values(array_unique($ratios));
    }

    /**
     * So many frames of all of them together, from a frame on: each goes on by itself from where it is by its formula.
     *
     * @param list<array{float, float, float}> $modes as of() gives them
     *
     * @return list<float>
     */
    public static function ringing(array $modes, int $at, int $count, float $sampleRate): array
    {
        $sum = array_fill(0, $count, 0.0);
        foreach ($modes as [$hz, $amplitude, $seconds]) {
            $fall = log(1000.0) / ($seconds * $sampleRate);
            $level = $amplitude * exp(-$fall * $at);
            if (abs($level) > self::LEAST) {
                $turn = 2.0 * \M_PI * $hz / $sampleRate;
                $sum = self::one($sum, $level * sin($turn * $at), $level * exp($fall) * sin($turn * ($at - 1)), 2.0 * exp(-$fall) * cos($turn), -exp(-2.0 * $fall));
            }
        }

        return $sum;
    }

    /**
     * y[n] = a y[n-1] + b y[n-2], added.
     *
     * @param list<float> $sum
     *
     * @return list<float>
     */
    private static function one(array $sum, float $now, float $before, float $a, float $b): array
    {
        foreach ($sum as $i => $x) {
            $sum[$i] = $x + $now;
            $next = $a * $now + $b * $before;
            $before = $now;
            $now = $next;
        }

        return $sum;
    }
}
