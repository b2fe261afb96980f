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

/** Pads: slow to come, slow to go, still below and wide above. */
final class Pads
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        return [
            self::sound('steam-on-glass', 'Steam on glass', 'pad', -8.0, 'opens slowly behind everything', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 7, detune: 22.0, spread: 70.0), new Wave(WaveKind::Triangle, levelDb: -10.0)], self::amp(260.0, 900.0, 0.85, 900.0), self::low(900.0, 800.0, 1500.0, 0.05, false, 0.0, 0.6), [], new Lfo(LfoTarget::Cutoff, hz: 0.17, depth: 600.0)),
            self::sound('wet-awning', 'Wet awning', 'pad', -7.0, 'hollow, it breathes with the rain', [new Wave(WaveKind::Pulse, levelDb: -8.0, voices: 3, detune: 12.0, spread: 55.0, sway: 28.0, swayHz: 0.31), new Wave(WaveKind::Noise, levelDb: -34.0, bright: 0.5)], self::amp(180.0, 600.0, 0.85, 700.0), self::low(1300.0, 0.0, 200.0, 0.0, false)),
            self::sound('dawn-market', 'Dawn market', 'pad', -4.5, 'bright at the edges, warm inside', [new Wave(WaveKind::Saw, levelDb: -9.0, voices: 5, detune: 16.0, spread: 65.0), new Wave(WaveKind::Saw, levelDb: -16.0, octave: 1, voices: 3, detune: 20.0, spread: 90.0), new Wave(WaveKind::Sine, levelDb: -8.0)], self::amp(120.0, 900.0, 0.8, 800.0), self::low(2200.0, 0.0, 200.0, 0.0, false)),
            self::sound('fog-over-rails', 'Fog over rails', 'pad', -12.0, 'soft voices without words', [new Wave(WaveKind::Partials, levelDb: -6.0, voices: 5, detune: 16.0, spread: 65.0, partials: [1.0, 0.5, 0.7, 0.3, 0.4, 0.15, 0.2, 0.1]), new Wave(WaveKind::Noise, levelDb: -32.0, bright: 0.35)], self::amp(220.0, 700.0, 0.85, 800.0), self::low(1500.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Pitch, hz: 4.6, depth: 7.0, delayMs: 600.0)),
            self::sound('slow-bell', 'Slow bell', 'pad', -6.5, 'a strike that stays in the air', [new Wave(WaveKind::Sine, levelDb: -5.0, voices: 3, detune: 10.0, spread: 60.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 2, depth: 1.4, decayMs: 3500.0)], self::amp(60.0, 3000.0, 0.5, 1200.0), self::low(2600.0, 0.0, 200.0, 0.0, false)),
            self::sound('smoke', 'Smoke', 'pad', -7.5, 'dark and without an edge', [new Wave(WaveKind::Triangle, levelDb: -6.0, voices: 5, detune: 18.0, spread: 65.0), new Wave(WaveKind::Noise, levelDb: -36.0, bright: 0.25)], self::amp(380.0, 900.0, 0.85, 1200.0), self::low(700.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Cutoff, hz: 0.11, depth: 500.0)),
            self::sound('paper-lantern', 'Paper lantern', 'pad', -6.5, 'light from inside, it sways', [new Wave(WaveKind::Pulse, levelDb: -9.0, voices: 5, detune: 14.0, spread: 60.0, width: 40.0, sway: 18.0, swayHz: 0.23), new Wave(WaveKind::Sine, levelDb: -9.0)], self::amp(160.0, 700.0, 0.85, 700.0), self::low(1900.0, 0.0, 200.0, 0.0, false)),
            self::sound('cold-harbour', 'Cold harbour', 'pad', -3.5, 'wide open fifths and gulls', [new Wave(WaveKind::Saw, levelDb: -10.0, voices: 5, detune: 16.0, spread: 70.0), new Wave(WaveKind::Saw, levelDb: -15.0, semitones: 7, voices: 3, detune: 14.0, spread: 80.0)], self::amp(220.0, 900.0, 0.8, 1000.0), self::low(1400.0, 600.0, 1800.0, 0.1, false, 0.0, 0.5)),
            self::sound('breath-choir', 'Waiting room', 'pad', -13.0, 'a hum of many, mouths closed', [new Wave(WaveKind::Partials, levelDb: -6.0, voices: 7, detune: 20.0, spread: 70.0, partials: [1.0, 0.35, 0.2, 0.45, 0.12, 0.08]), new Wave(WaveKind::Sine, levelDb: -10.0)], self::amp(280.0, 700.0, 0.9, 900.0), self::low(1200.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Pitch, hz: 5.1, depth: 8.0, delayMs: 700.0)),
            self::sound('tape-strings', 'Strings on tape', 'pad', -3.5, 'they wander a little, as tape does', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 5, detune: 20.0, spread: 55.0)], self::amp(90.0, 600.0, 0.85, 500.0), self::low(1700.0, 0.0, 200.0, 0.0, false, 4.0), [], new Lfo(LfoTarget::Pitch, hz: 0.6, depth: 9.0)),
            self::sound('under-water', 'Under water', 'pad', -7.0, 'opens and closes with the bar', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 3, detune: 12.0, spread: 55.0), new Wave(WaveKind::Sine, levelDb: -7.0)], self::amp(200.0, 700.0, 0.85, 800.0), self::low(600.0, 0.0, 200.0, 0.2, true), [], new Lfo(LfoTarget::Cutoff, ticks: 3840, depth: 1400.0)),
            self::sound('glass-roof', 'Glass roof', 'pad', -6.5, 'high and clear, leave the lows to others', [new Wave(WaveKind::Sine, levelDb: -6.0, octave: 1, voices: 3, detune: 9.0, spread: 80.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 4, depth: 0.9), new Wave(WaveKind::Triangle, levelDb: -14.0)], self::amp(140.0, 900.0, 0.75, 1100.0), self::low(5200.0, 0.0, 200.0, 0.0, false)),
            self::sound('wet-choir', 'Wet choir', 'pad', -12.5, 'voices through a wall, from a to e and back', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 5, detune: 12.0, spread: 70.0), new Wave(WaveKind::Saw, levelDb: -12.0, octave: 1, voices: 3, detune: 9.0, spread: 90.0)], self::amp(420.0, 0.0, 1.0, 1400.0), new Filter(FilterShape::Vowel, false, 320.0, 0.1, strengthCents: 700.0), [], new Lfo(LfoTarget::Cutoff, hz: 0.13, depth: 420.0, common: true)),
            self::sound('last-bus', 'Last bus', 'pad', -7.0, 'opens late, closes when it is let go', [new Wave(WaveKind::Saw, levelDb: -7.0, voices: 5, detune: 16.0, spread: 80.0), new Wave(WaveKind::Pulse, levelDb: -12.0, width: 40.0, sway: 20.0)], self::amp(260.0, 0.0, 1.0, 1600.0), self::low(500.0, 2400.0, 3200.0, 0.08, true, 0.0, 0.5)->with(['attackMs' => 900.0, 'releaseMs' => 700.0])),
        ];
    }
}
