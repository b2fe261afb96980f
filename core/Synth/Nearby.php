<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;

/** Sounds that lie near one: each goes one way that can be measured, and the way between two sounds. */
final class Nearby
{
    /** Directions, by what they are called. */
    public const WAYS = ['rounder' => 'Rounder', 'duller' => 'Duller', 'bite' => 'More bite', 'longer' => 'Longer', 'plucked' => 'Plucked', 'wider' => 'Wider', 'hollow' => 'Hollow', 'dirtier' => 'Dirtier'];

    /** Another one that lies this way; a sound of recordings alone goes by its shape and tone. */
    public static function going(Keys $keys, string $way): Keys
    {
        $t = $keys->treatment;

        return match ($way) {
            'rounder' => self::treated(self::waves($keys, static fn (Wave $w): Wave => WaveActs::Bends === $w->acts ? $w->with(['depth' => 0.5 * $w->depth]) : $w->with(['bright' => 0.7 * $w->bright])), amp: $t->amp->with(['attackMs' => max(6.0, 1.8 * $t->amp->attackMs)]), filter: self::opened($t->filter, 0.62)->with(['resonance' => 0.4 * $t->filter->resonance])),
            'duller' => self::treated(self::waves($keys, static fn (Wave $w): Wave => WaveActs::Bends === $w->acts ? $w->with(['depth' => 0.6 * $w->depth]) : $w->with(['bright' => 0.6 * $w->bright])), filter: self::opened($t->filter, 0.4)),
            'bite' => self::treated(self::waves($keys, static fn (Wave $w): Wave => WaveActs::Bends === $w->acts ? $w->with(['depth' => min(12.0, 1.6 * $w->depth)]) : $w->with(['bright' => min(1.0, 0.2 + $w->bright)])), amp: $t->amp->with(['attackMs' => min(2.0, $t->amp->attackMs)]), filter: self::opened($t->filter, 1.7)->with(['envelopeCents' => min(4800.0, $t->filter->envelopeCents + 900.0), 'resonance' => min(0.6, $t->filter->resonance + 0.12)])),
            'longer' => self::treated(self::waves($keys, static fn (Wave $w): Wave => $w->with(['decayMs' => min(20_000.0, 1.8 * ($w->kind->isStruck() && 0.0 === $w->decayMs ? Wave::RINGS_MS : $w->decayMs))])), amp: $t->amp->with(['decayMs' => min(Envelope::MOST_MS, 1.8 * $t->amp->decayMs), 'sustain' => 0.0 === $t->amp->sustain ? 0.0 : min(1.0, $t->amp->sustain + 0.15), 'releaseMs' => min(Envelope::MOST_MS, 2.2 * $t->amp->releaseMs + 60.0)])),
            'plucked' => self::treated($keys, amp: new Envelope(1.0, 0.0, 0.0 < $t->amp->decayMs && $t->amp->decayMs < 320.0 ? 0.6 * $t->amp->decayMs : 320.0, 0.0, min(120.0, max(40.0, $t->amp->releaseMs)))),
            'wider' => self::waves($keys, static fn (Wave $w): Wave => WaveActs::Sounds !== $w->acts || WaveKind::Noise === $w->kind || $w->octave < 0 || !$w->kind->isPeriodic() ? $w : $w->with(['voices' => min(9, max(3, $w->voices + 2)), 'detune' => min(60.0, 1.3 * $w->detune), 'spread' => min(100.0, 25.0 + $w->spread)])),
            'hollow' => self::waves($keys, static fn (Wave $w): Wave => match ($w->kind) {
                WaveKind::Saw => $w->with(['kind' => WaveKind::Pulse, 'width' => 50.0]),
                WaveKind::Partials => $w->with(['partials' => array_map(static fn (float $a, int $i): float => 1 === $i % 2 ? 0.15 * $a : $a, $w->partials, array_keys($w->partials))]),
                WaveKind::Sine => WaveActs::Sounds === $w->acts && $w->octave >= 0 ? $w->with(['kind' => WaveKind::Triangle]) : $w,
                default => $w,
            }),
            'dirtier' => self::treated($keys, filter: self::opened($t->filter, 1.3)->with(['driveDb' => min(36.0, $t->filter->driveDb + 14.0)])),
            default => throw new \InvalidArgumentException('Nearby lie: '.implode(', ', array_keys(self::WAYS)).'.'),
        };
    }

    /** A sound between two: numbers go from the one to the other, what is one of several changes in the middle. */
    public static function between(Keys $from, Keys $to, float $share): Keys
    {
        $near = $share < 0.5 ? $from : $to;
        $treatment = $near->treatment;
        foreach ($treatment->parts() as $path => $part) {
            [$a, $b] = [$from->treatment->parts()[$path], $to->treatment->parts()[$path]];
            $treatment = $treatment->withPart($path, self::mixed($part, $a, $b, $share));
        }
        $waves = [];
        foreach ($near->waves as $i => $wave) {
            // What only one of them has comes and goes by its level.
            [$a, $b] = [$from->waves[$i] ?? $to->waves[$i]->with(['levelDb' => -60.0]), $to->waves[$i] ?? $from->waves[$i]->with(['levelDb' => -60.0])];
            $waves[] = self::mixed($wave, $a, $b, $share);
        }

        return $near->with(['waves' => $waves, 'treatment' => $treatment, 'levelDb' => $from->levelDb + ($to->levelDb - $from->levelDb) * $share, 'channel' => $from->channel]);
    }

    /**
     * @template T of Settable
     *
     * @param T $near
     *
     * @return T
     */
    private static function mixed(Settable $near, Settable $a, Settable $b, float $share): Settable
    {
        $mixed = [];
        foreach ($near::parameters() as $field => $parameter) {
            [$x, $y] = [$a->settings()[$field], $b->settings()[$field]];
            if ((\is_float($x) || \is_int($x)) && (\is_float($y) || \is_int($y))) {
                // Evenly along the slider, as it is felt.
                $mixed[$field] = self::read($parameter, $parameter->at($parameter->share((float) $x) + ($parameter->share((float) $y) - $parameter->share((float) $x)) * $share));
            }
        }

        return $near->with($mixed);
    }

    private static function read(Parameter $parameter, float $value): int|float
    {
        return $parameter->whole ? (int) round($value) : round($value, 4);
    }

    private static function opened(Filter $filter, float $times): Filter
    {
        $set = FilterShape::Off === $filter->shape ? new Filter(FilterShape::Low, false, 6000.0, keyTracking: 0.4) : $filter;

        return $set->with(['cutoffHz' => max(60.0, min(Filter::HIGHEST_HZ, $times * $set->cutoffHz))]);
    }

    private static function treated(Keys $keys, ?Envelope $amp = null, ?Filter $filter = null): Keys
    {
        $t = $keys->treatment;

        return $keys->with(['treatment' => new Treatment($amp ?? $t->amp, $t->pitch, $filter ?? $t->filter, $t->lfo1, $t->lfo2, $t->env)]);
    }

    /** @param callable(Wave): Wave $changed */
    private static function waves(Keys $keys, callable $changed): Keys
    {
        return $keys->with(['waves' => array_map($changed, $keys->waves)]);
    }
}
