<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\FreeEnvelope;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\Zone;

/** What is often made of a sound that is there, at a press: it sets what could be set by hand, and can be changed from there. */
final class Recipes
{
    public const ALL = ['stab' => 'A stab of it', 'sub' => 'A sub of it', 'growing' => 'Growing, reversed', 'behind' => 'A bed behind it'];

    public static function of(Keys $keys, string $recipe): Keys
    {
        return match ($recipe) {
            'stab' => self::stab($keys),
            'sub' => self::sub($keys),
            'growing' => self::growing($keys),
            'behind' => self::behind($keys),
            default => throw new \InvalidArgumentException('Recipes are: '.implode(', ', array_keys(self::ALL)).'.'),
        };
    }

    /** At once there, over in a quarter of a second, brightest first. */
    private static function stab(Keys $keys): Keys
    {
        $filter = self::lowPass($keys->treatment->filter);

        return self::treated($keys, new Envelope(1.0, 20.0, 260.0, 0.0, 90.0), $filter->with(['cutoffHz' => max(300.0, 0.5 * $filter->cutoffHz), 'envelopeCents' => 2400.0, 'attackMs' => 0.0, 'decayMs' => 180.0, 'sustain' => 0.0]));
    }

    /** Its lowest tone and little more; one note at a time. */
    private static function sub(Keys $keys): Keys
    {
        $t = $keys->treatment;
        $amp = $t->amp->with(['attackMs' => max(4.0, $t->amp->attackMs), 'releaseMs' => max(60.0, $t->amp->releaseMs)]);

        return self::treated($keys, $amp, new Filter(FilterShape::Low, true, 110.0, 0.1))->with(['single' => true, 'levelDb' => min(12.0, $keys->levelDb + 9.0)]);
    }

    /** Out of nothing, up to where it is let go: recordings backwards, waves by their envelopes. */
    private static function growing(Keys $keys): Keys
    {
        $turned = $keys->with(['zones' => array_map(static fn (Zone $zone): Zone => $zone->with(['sound' => $zone->sound->with(['reversed' => true, 'loopStart' => null, 'loopEnd' => null])]), $keys->zones)]);
        $filter = self::lowPass($keys->treatment->filter);
        $grown = self::treated($turned, new Envelope(attackMs: 1600.0, releaseMs: 30.0, attackBend: -0.7), $filter->with(['cutoffHz' => 500.0, 'envelopeCents' => 0.0]));

        return $grown->with(['treatment' => $grown->treatment->withPart('env', new FreeEnvelope(LfoTarget::Cutoff, 4200.0, attackMs: 1600.0, decayMs: 0.0, sustain: 1.0, bend: -0.4))]);
    }

    /** Slow, dark and long, to lie behind what plays. */
    private static function behind(Keys $keys): Keys
    {
        $filter = self::lowPass($keys->treatment->filter);
        $lasting = $keys->with(['waves' => array_map(static fn (Wave $wave): Wave => $wave->kind->isStruck() ? $wave->with(['decayMs' => 6000.0]) : $wave, $keys->waves)]);

        return self::treated($lasting, new Envelope(700.0, 0.0, 0.0, 1.0, 1800.0, attackBend: -0.2), $filter->with(['cutoffHz' => min(1400.0, $filter->cutoffHz), 'envelopeCents' => 0.0, 'resonance' => 0.0]))->with(['single' => false]);
    }

    private static function lowPass(Filter $filter): Filter
    {
        return FilterShape::Low === $filter->shape ? $filter : new Filter(FilterShape::Low, false, 3000.0, keyTracking: 0.3);
    }

    private static function treated(Keys $keys, Envelope $amp, Filter $filter): Keys
    {
        $t = $keys->treatment;

        return $keys->with(['treatment' => new Treatment($amp, $t->pitch, $filter, $t->lfo1, $t->lfo2)]);
    }
}
