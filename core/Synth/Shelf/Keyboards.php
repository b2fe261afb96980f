<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Keys: a strike, a body, and partials that die the faster the higher they are. */
final class Keyboards
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        return [
            self::sound('spoon-drawer', 'Spoon drawer', 'keys', -8.5, 'bell-like at the strike, warm after it', [new Wave(WaveKind::Sine, levelDb: -3.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 14, depth: 0.9, strength: 0.7, decayMs: 380.0), new Wave(WaveKind::Sine, levelDb: -9.0, cents: 3.0), new Wave(WaveKind::Noise, levelDb: -30.0, bright: 0.6, decayMs: 18.0)], self::amp(1.0, 2600.0, 0.2, 220.0), self::low(3600.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.5, 1500.0)),
            self::sound('back-room', 'Back room', 'keys', -6.0, 'dark hammers, for chords that lean back', [new Wave(WaveKind::Triangle, levelDb: -4.0), new Wave(WaveKind::Triangle, levelDb: -8.0, cents: 3.0), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 0.8, strength: 0.8, decayMs: 300.0), new Wave(WaveKind::Noise, levelDb: -28.0, bright: 0.4, decayMs: 16.0)], self::amp(2.0, 1800.0, 0.25, 200.0), self::low(1100.0, 1400.0, 350.0, 0.0, false)),
            self::sound('chapel-window', 'Chapel window', 'keys', -9.0, 'drawn pipes with no hurry', [new Wave(WaveKind::Partials, levelDb: -6.0, voices: 2, detune: 6.0, partials: [1.0, 0.6, 0.35, 0.3, 0.0, 0.18, 0.0, 0.12])], self::amp(14.0, 200.0, 0.9, 160.0), new Filter(), [], new Lfo(LfoTarget::Level, hz: 5.6, depth: 6.0, delayMs: 300.0)),
            self::sound('coin-organ', 'Coin organ', 'keys', -11.0, 'reedy and bright, from the corner of the fair', [new Wave(WaveKind::Pulse, levelDb: -8.0, width: 30.0), new Wave(WaveKind::Partials, levelDb: -8.0, octave: 1, partials: [1.0, 0.0, 0.5, 0.0, 0.25])], self::amp(6.0, 150.0, 0.85, 90.0), self::low(2600.0, 0.0, 200.0, 0.0, false)),
            self::sound('frost', 'Frost', 'keys', -5.5, 'glass and air, an octave up', [new Wave(WaveKind::Sine, levelDb: -4.0, octave: 1), new Wave(WaveKind::Sine, WaveActs::Bends, times: 3, depth: 1.6, strength: 0.6, decayMs: 700.0), new Wave(WaveKind::Plate, levelDb: -16.0, octave: 1, bright: 0.5, decayMs: 900.0)], self::amp(2.0, 2200.0, 0.2, 500.0), self::low(5200.0, 0.0, 200.0, 0.0, false)),
            self::sound('felt-hammers', 'Felt hammers', 'keys', -4.0, 'quiet strings for late hours', [new Wave(WaveKind::String, levelDb: -2.0, width: 12.0, bright: 0.3, decayMs: 3500.0), new Wave(WaveKind::String, levelDb: -8.0, cents: 3.0, width: 12.0, bright: 0.25, decayMs: 3000.0), new Wave(WaveKind::Noise, levelDb: -30.0, bright: 0.4, decayMs: 18.0)], self::amp(2.0, 4000.0, 0.3, 200.0), self::low(2200.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.5, 1200.0)),
            self::sound('bar-piano', 'Corner bar', 'keys', -5.5, 'two strings that disagree a little', [new Wave(WaveKind::String, levelDb: -3.0, width: 14.0, bright: 0.6, decayMs: 3000.0), new Wave(WaveKind::String, levelDb: -5.0, cents: 8.0, width: 14.0, bright: 0.55, decayMs: 2800.0)], self::amp(1.0, 4000.0, 0.3, 180.0), self::low(4200.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.5, 1500.0)),
            self::sound('reed-keys', 'Tongue and tin', 'keys', -5.5, 'a bark when it is hit, a purr when not', [new Wave(WaveKind::Sine, levelDb: -3.0), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 2.2, strength: 0.9, decayMs: 700.0)], self::amp(1.0, 2200.0, 0.25, 180.0), self::low(3000.0, 0.0, 200.0, 0.0, false, 5.0, 0.0, 0.4, 1200.0), [], new Lfo(LfoTarget::Pan, hz: 4.2, depth: 35.0)),
            self::sound('music-box', 'Ballerina', 'keys', -5.0, 'a comb of steel with a spring under it', [new Wave(WaveKind::Bar, levelDb: -4.0, octave: 1, bright: 0.45, decayMs: 1600.0), new Wave(WaveKind::Sine, levelDb: -12.0, octave: 1, decayMs: 1200.0)], self::amp(0.5, 2600.0, 0.0, 400.0), self::low(6500.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.3, 1200.0)),
            self::sound('hall-organ', 'Draughty hall', 'keys', -11.5, 'full and even, with the wind in it', [new Wave(WaveKind::Partials, levelDb: -7.0, voices: 3, detune: 8.0, spread: 70.0, partials: [0.8, 1.0, 0.5, 0.7, 0.0, 0.3, 0.0, 0.4]), new Wave(WaveKind::Partials, levelDb: -12.0, octave: -1, partials: [1.0, 0.4]), new Wave(WaveKind::Noise, levelDb: -36.0, bright: 0.5)], self::amp(24.0, 200.0, 0.95, 240.0), self::low(4000.0, 0.0, 200.0, 0.0, false)),
            self::sound('toy-keys', 'Toy on the stairs', 'keys', -3.5, 'short rods, a little out', [new Wave(WaveKind::Bar, levelDb: -3.0, cents: 7.0, bright: 0.7, decayMs: 700.0), new Wave(WaveKind::Tube, levelDb: -14.0, bright: 0.4, decayMs: 200.0)], self::amp(0.5, 900.0, 0.0, 140.0), self::low(5200.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.3, 1400.0)),
            self::sound('glass-harp', 'Wet rims', 'keys', -9.0, 'rubbed, not struck; leave it room', [new Wave(WaveKind::Sine, levelDb: -4.0, voices: 2, detune: 5.0, spread: 60.0), new Wave(WaveKind::Sine, levelDb: -16.0, times: 3), new Wave(WaveKind::Noise, levelDb: -38.0, bright: 0.8)], self::amp(90.0, 800.0, 0.8, 600.0), self::low(5000.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Level, hz: 4.8, depth: 12.0, delayMs: 400.0)),
            self::sound('canteen-organ', 'Canteen organ', 'keys', -11.4, 'pipes that take a breath and lean on the chord', [new Wave(WaveKind::Partials, levelDb: -6.0, partials: [1.0, 0.8, 0.3, 0.5, 0.1, 0.25]), new Wave(WaveKind::Sine, levelDb: -12.0, octave: -1)], self::amp(12.0, 0.0, 1.0, 120.0), self::low(2600.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Pitch, hz: 5.6, depth: 7.0, fadeMs: 900.0, common: true)),
        ];
    }
}
