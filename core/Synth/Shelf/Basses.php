<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Basses: their lows first, then what small speakers tell them by. */
final class Basses
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        $one = ['single' => true, 'legato' => true, 'glideMs' => 25];

        return [
            self::sound('cellar-jar', 'Cellar jar', 'bass', -5.0, 'round and close, for lines that walk', [new Wave(WaveKind::Saw, levelDb: -5.0), new Wave(WaveKind::Sine, levelDb: -3.0, octave: -1)], self::amp(3.0, 500.0, 0.65, 70.0), self::low(320.0, 1700.0, 260.0, 0.1), $one),
            self::sound('under-the-stairs', 'Under the stairs', 'bass', -4.5, 'a sub that small speakers still tell', [new Wave(WaveKind::Sine, levelDb: 0.0, octave: -1), new Wave(WaveKind::Triangle, levelDb: -20.0)], self::amp(5.0, 900.0, 0.8, 90.0), self::low(700.0, 0.0, 200.0, 0.0, false, 3.0), $one),
            self::sound('drain', 'Drain', 'bass', -8.5, 'hollow, with a gulp when it is hit hard', [new Wave(WaveKind::Pulse, levelDb: -6.0, width: 34.0), new Wave(WaveKind::Sine, levelDb: -4.0, octave: -1)], self::amp(2.0, 350.0, 0.5, 80.0), self::low(260.0, 2400.0, 140.0, 0.35), $one),
            self::sound('boiler', 'Boiler', 'bass', -5.5, 'wide above, still in the middle below', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 5, detune: 18.0, spread: 80.0), new Wave(WaveKind::Sine, levelDb: -3.0, octave: -1)], self::amp(4.0, 700.0, 0.7, 120.0), self::low(520.0, 1200.0, 420.0, 0.08), $one),
            self::sound('manhole', 'Manhole', 'bass', -3.5, 'a knock with a note in it', [new Wave(WaveKind::Sine, levelDb: -2.0, octave: -1), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 2.4, strength: 0.6, decayMs: 420.0)], self::amp(1.0, 800.0, 0.45, 90.0), new Filter(), ['single' => true]),
            self::sound('night-tram', 'Night tram', 'bass', -8.0, 'two saws that beat against each other, for long notes', [new Wave(WaveKind::Saw, levelDb: -6.0, cents: -9.0), new Wave(WaveKind::Saw, levelDb: -6.0, cents: 9.0), new Wave(WaveKind::Sine, levelDb: -6.0, octave: -1)], self::amp(8.0, 1200.0, 0.85, 140.0), self::low(430.0, 0.0, 200.0, 0.15), $one, new Lfo(LfoTarget::Cutoff, hz: 0.35, depth: 700.0)),
            self::sound('rubber-boot', 'Rubber boot', 'bass', -3.5, 'short and blunt, between the kicks', [new Wave(WaveKind::Triangle, levelDb: -2.0), new Wave(WaveKind::Skin, levelDb: -14.0, bright: 0.3, decayMs: 120.0)], self::amp(1.0, 260.0, 0.0, 60.0), self::low(600.0, 1200.0, 90.0, 0.0, false), ['single' => true]),
            self::sound('copper-wire', 'Copper wire', 'bass', -5.0, 'plucked and stringy, with fingers', [new Wave(WaveKind::String, levelDb: -2.0, octave: -1, width: 22.0, bright: 0.5, decayMs: 1800.0), new Wave(WaveKind::Sine, levelDb: -10.0, octave: -1, decayMs: 900.0)], self::amp(1.0, 2500.0, 0.3, 90.0), self::low(1400.0, 0.0, 200.0, 0.0, false), ['single' => true]),
            self::sound('wet-sand', 'Wet sand', 'bass', -1.5, 'a thud that rounds into a note', [new Wave(WaveKind::Sine, levelDb: -1.0, octave: -1), new Wave(WaveKind::Noise, levelDb: -26.0, bright: 0.3, decayMs: 30.0)], self::amp(1.0, 420.0, 0.3, 80.0), self::low(900.0, 0.0, 200.0, 0.0, false, 4.0), ['single' => true], null, new Sweep(700.0, 0.0, 45.0)),
            self::sound('iron-gate', 'Iron gate', 'bass', -3.0, 'hard edge, for lines on the offbeat', [new Wave(WaveKind::Saw, levelDb: -5.0), new Wave(WaveKind::Pulse, levelDb: -9.0, octave: -1, width: 50.0)], self::amp(1.0, 240.0, 0.25, 60.0), self::low(700.0, 2400.0, 90.0, 0.2, true, 6.0), ['single' => true]),
            self::sound('accordion-belly', 'Accordion belly', 'bass', -10.5, 'reeds under the melody', [new Wave(WaveKind::Partials, levelDb: -4.0, octave: -1, partials: [1.0, 0.8, 0.55, 0.4, 0.3, 0.2, 0.12]), new Wave(WaveKind::Partials, levelDb: -12.0, cents: 6.0, partials: [1.0, 0.5, 0.3])], self::amp(12.0, 300.0, 0.85, 90.0), self::low(1100.0, 0.0, 200.0, 0.0, false), ['single' => true]),
            self::sound('tape-bass', 'Dull tape', 'bass', -3.5, 'soft as from a copy of a copy', [new Wave(WaveKind::Triangle, levelDb: 0.0, octave: -1), new Wave(WaveKind::Sine, levelDb: -12.0, cents: 5.0)], self::amp(7.0, 800.0, 0.6, 100.0), self::low(420.0, 300.0, 300.0, 0.0, true, 0.0), ['single' => true, 'legato' => true, 'glideMs' => 35], new Lfo(LfoTarget::Pitch, hz: 0.7, depth: 6.0)),
            self::sound('elastic', 'Elastic', 'bass', -9.0, 'opens like a mouth with the strength', [new Wave(WaveKind::Pulse, levelDb: -5.0, width: 22.0), new Wave(WaveKind::Sine, levelDb: -5.0, octave: -1)], self::amp(2.0, 500.0, 0.55, 90.0), self::low(180.0, 2800.0, 220.0, 0.55), ['single' => true, 'legato' => true, 'glideMs' => 40]),
            self::sound('under-the-bridge', 'Under the bridge', 'bass', -6.0, 'begins round, growls after a moment', [new Wave(WaveKind::Saw, levelDb: -6.0), new Wave(WaveKind::Sine, levelDb: -5.0, octave: -1)], self::amp(4.0, 0.0, 1.0, 120.0), self::low(260.0, 0.0, 200.0, 0.15)->with(['envelopeCents' => 2200.0, 'attackMs' => 450.0, 'decayMs' => 400.0, 'sustain' => 0.6, 'releaseMs' => 120.0])),
        ];
    }
}
