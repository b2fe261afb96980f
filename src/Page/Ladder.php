<?php

namespace Pestle\App\Page;

use Pestle\Core\Kit\Pad;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Parameter;

/** One pad on all sixteen places, one of its settings graded over them from low to high, lower row first. */
final readonly class Ladder
{
    public const KINDS = [
        'semitones' => 'Pitch', 'scale' => 'Pitch in key', 'velocity' => 'Strength', 'start' => 'Start', 'filter/cutoffHz' => 'Cut-off', 'filter/resonance' => 'Resonance',
        'amp/decayMs' => 'Decay', 'amp/attackMs' => 'Attack', 'amp/releaseMs' => 'Release', 'levelDb' => 'Level', 'pan' => 'Pan', 'pitch/cents' => 'Pitch sweep', 'filter/driveDb' => 'Drive', 'lfo1/hz' => 'Rate', 'lfo1/depth' => 'Depth',
    ];
    /** Of the sixteen, the one that plays the pad as it is, where pitch is graded. */
    private const HOME = 4;

    /** @param list<array{key: string, left: bool, grade: string, velocity: string, said: string}> $steps */
    private function __construct(public Pad $pad, public array $steps)
    {
    }

    public static function of(Pad $pad, string $kind, ?Key $key): ?self
    {
        if (!isset(self::KINDS[$kind])) {
            return null;
        }
        $steps = [];
        foreach (BeatPage::KEYS as $i => $name) {
            // The lower row is the lower one.
            $steps[] = ['key' => $name, 'left' => 0 === intdiv($i, 4) % 2, ...self::step($pad, $kind, $i < 8 ? $i + 8 : $i - 8, $key)];
        }

        return new self($pad, $steps);
    }

    /** @return array{grade: string, velocity: string, said: string} */
    private static function step(Pad $pad, string $kind, int $rank, ?Key $key): array
    {
        $plain = static fn (string $grade, string $said, string $velocity = ''): array => ['grade' => $grade, 'velocity' => $velocity, 'said' => $said];
        if ('velocity' === $kind) {
            $velocity = (int) round(127 * ($rank + 1) / 16);

            return $plain('', (string) $velocity, (string) $velocity);
        }
        if ('semitones' === $kind || 'scale' === $kind) {
            $semitones = 'scale' === $kind && null !== $key ? self::inScale($key, $rank - self::HOME) : $rank - self::HOME;

            return $plain('tuneCents='.max(-Pad::MAX_TUNE_CENTS, min(Pad::MAX_TUNE_CENTS, $pad->tuneCents + 100 * $semitones)), 0 === $semitones ? 'as it is' : \sprintf('%+d st', $semitones));
        }
        if ('start' === $kind) {
            return $plain('start='.round($rank / 16, 4), round(100 * $rank / 16).' %');
        }
        $parameter = self::parameter($pad, $kind);
        $value = round($parameter->least + ($parameter->most - $parameter->least) * ($rank / 15) ** $parameter->bend, 3);

        return $plain($kind.'='.$value, self::said($value, $parameter->unit));
    }

    /** Three digits and the unit. */
    private static function said(float $value, string $unit): string
    {
        [$value, $unit] = 'Hz' === $unit && $value >= 1000.0 ? [$value / 1000.0, 'kHz'] : ('ms' === $unit && $value >= 1000.0 ? [$value / 1000.0, 's'] : [$value, $unit]);
        $places = abs($value) >= 100.0 ? 0 : (abs($value) >= 10.0 ? 1 : 2);
        $number = number_format($value, $places, '.', '');

        return trim((str_contains($number, '.') ? rtrim(rtrim($number, '0'), '.') : $number).' '.str_replace('cents', 'ct', $unit));
    }

    /** Semitones of a step of the key's scale, counted from its root. */
    private static function inScale(Key $key, int $step): int
    {
        $steps = array_map(static fn (int $class): int => ($class - $key->tonic + 12) % 12, $key->scale());
        $octave = (int) floor($step / \count($steps));

        return 12 * $octave + $steps[$step - $octave * \count($steps)];
    }

    private static function parameter(Pad $pad, string $path): Parameter
    {
        $holder = str_contains($path, '/') ? $pad->inner()[\dirname($path)] : $pad;

        return $holder::parameters()[basename($path)];
    }
}
