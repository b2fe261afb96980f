<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Synth\Shelf;
use Pestle\Core\Synth\ShelfSound;

/** What sounds of the shelf are put together with. */
trait Making
{
    /**
     * @param list<Wave>           $waves
     * @param array<string, mixed> $more  settings of the instrument
     */
    private static function sound(string $id, string $name, string $use, float $levelDb, string $about, array $waves, Envelope $amp, Filter $filter = new Filter(), array $more = [], ?Lfo $lfo = null, ?Sweep $sweep = null): ShelfSound
    {
        $treatment = new Treatment($amp, $sweep ?? new Sweep(), $filter, $lfo ?? new Lfo());

        return new ShelfSound($id, $name, $use, $about, (new Keys([], 'none', levelDb: $levelDb, strength: Shelf::STRENGTH, treatment: $treatment, waves: $waves))->with($more));
    }

    private static function low(float $hz, float $envelopeCents = 0.0, float $decayMs = 200.0, float $resonance = 0.0, bool $steep = true, float $driveDb = 0.0, float $sustain = 0.0, float $key = 0.3, float $strengthCents = 900.0): Filter
    {
        return new Filter(FilterShape::Low, $steep, $hz, $resonance, $driveDb, $envelopeCents, 0.0, $decayMs, $sustain, $key, $strengthCents);
    }

    private static function amp(float $attackMs, float $decayMs, float $sustain, float $releaseMs): Envelope
    {
        return new Envelope($attackMs, 0.0, $decayMs, $sustain, $releaseMs);
    }
}
