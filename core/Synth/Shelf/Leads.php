<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Leads: one line, with a glide and a vibrato that comes late. */
final class Leads
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        $one = ['single' => true, 'legato' => true, 'glideMs' => 45];
        $vibrato = new Lfo(LfoTarget::Pitch, hz: 5.2, depth: 16.0, delayMs: 350.0);

        return [
            self::sound('tin-flute', 'Tin flute', 'lead', -7.5, 'breath first, then the note', [new Wave(WaveKind::Triangle, levelDb: -3.0), new Wave(WaveKind::Noise, levelDb: -24.0, bright: 0.6), new Wave(WaveKind::Noise, levelDb: -14.0, bright: 0.55, decayMs: 60.0)], self::amp(28.0, 300.0, 0.85, 110.0), self::low(2800.0, 0.0, 200.0, 0.0, false), $one, $vibrato),
            self::sound('kettle-whistle', 'Kettle whistle', 'lead', -11.0, 'thin and high, for a line above the hats', [new Wave(WaveKind::Sine, levelDb: -3.0, octave: 1), new Wave(WaveKind::Sine, levelDb: -18.0, octave: 2), new Wave(WaveKind::Noise, levelDb: -26.0, bright: 0.8)], self::amp(20.0, 200.0, 0.9, 120.0), new Filter(), $one, $vibrato),
            self::sound('neon', 'Neon', 'lead', -4.5, 'torn at the edge, with a buzz', [new Wave(WaveKind::Saw, levelDb: -6.0, semitones: 7), new Wave(WaveKind::Sine, WaveActs::Restarts)], self::amp(4.0, 400.0, 0.75, 120.0), self::low(2600.0, 1000.0, 300.0, 0.1, false), $one, $vibrato),
            self::sound('overhead-line', 'Overhead line', 'lead', -5.5, 'one saw that slides', [new Wave(WaveKind::Saw, levelDb: -6.0, voices: 2, detune: 9.0, spread: 20.0)], self::amp(6.0, 500.0, 0.8, 130.0), self::low(2200.0, 700.0, 400.0, 0.12, false), $one, $vibrato),
            self::sound('saw-song', 'Saw song', 'lead', -11.5, 'bent steel, for slow melodies', [new Wave(WaveKind::Sine, levelDb: -2.0), new Wave(WaveKind::Sine, levelDb: -22.0, octave: 1)], self::amp(50.0, 200.0, 0.95, 180.0), new Filter(), ['single' => true, 'legato' => true, 'glideMs' => 130], new Lfo(LfoTarget::Pitch, hz: 5.8, depth: 26.0, delayMs: 250.0)),
            self::sound('street-clarinet', 'Street clarinet', 'lead', -10.0, 'hollow wood and breath', [new Wave(WaveKind::Pulse, levelDb: -6.0, width: 50.0), new Wave(WaveKind::Noise, levelDb: -30.0, bright: 0.5)], self::amp(30.0, 200.0, 0.9, 100.0), self::low(1500.0, 400.0, 150.0, 0.0, false), $one, $vibrato),
            self::sound('cheap-radio', 'Cheap radio', 'lead', -0.5, 'narrow and nasal, it is heard anywhere', [new Wave(WaveKind::Pulse, levelDb: -6.0, width: 14.0), new Wave(WaveKind::Saw, levelDb: -12.0, cents: 7.0)], self::amp(4.0, 300.0, 0.8, 90.0), new Filter(FilterShape::Band, false, 1500.0, 0.15, 8.0, 0.0, 0.0, 200.0, 0.0, 0.4, 900.0), $one, $vibrato),
            self::sound('glass-voice', 'Glass voice', 'lead', -11.5, 'between a flute and someone far off', [new Wave(WaveKind::Sine, levelDb: -3.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 2, depth: 0.7, strength: 0.5), new Wave(WaveKind::Noise, levelDb: -32.0, bright: 0.7)], self::amp(24.0, 300.0, 0.85, 150.0), self::low(4200.0, 0.0, 200.0, 0.0, false), $one, $vibrato),
            self::sound('fat-needle', 'Fat needle', 'lead', -7.5, 'seven saws in a row', [new Wave(WaveKind::Saw, levelDb: -7.0, voices: 7, detune: 24.0, spread: 50.0), new Wave(WaveKind::Pulse, levelDb: -14.0, octave: -1, width: 50.0)], self::amp(4.0, 500.0, 0.8, 140.0), self::low(3200.0, 900.0, 300.0, 0.05, false), $one, $vibrato),
            self::sound('whirr', 'Whirr', 'lead', -3.5, 'two notes that multiply each other', [new Wave(WaveKind::Triangle, levelDb: -3.0), new Wave(WaveKind::Sine, WaveActs::Multiplies, semitones: 7, depth: 0.8)], self::amp(6.0, 400.0, 0.8, 120.0), self::low(3600.0, 0.0, 200.0, 0.0, false), $one, $vibrato),
            self::sound('jaw-wire', 'Jaw wire', 'lead', -6.2, 'a wire in the mouth: each note says ow', [new Wave(WaveKind::Pulse, levelDb: -6.0, width: 22.0), new Wave(WaveKind::Saw, levelDb: -14.0)], self::amp(4.0, 400.0, 0.7, 110.0), new Filter(FilterShape::Vowel, false, 1000.0, 0.3, envelopeCents: -1600.0, attackMs: 30.0, decayMs: 260.0, sustain: 0.2, strengthCents: 500.0), $one, $vibrato),
        ];
    }
}
