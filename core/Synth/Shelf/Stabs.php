<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Stabs: a chord at once, then nothing. */
final class Stabs
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        return [
            self::sound('shutter', 'Shutter', 'stab', 6.5, 'a chord that slams, for the offbeat', [new Wave(WaveKind::Saw, levelDb: -7.0, voices: 5, detune: 14.0, spread: 50.0)], self::amp(1.0, 260.0, 0.0, 120.0), new Filter(FilterShape::Band, false, 1100.0, 0.1, 0.0, 1200.0, 0.0, 140.0, 0.0, 0.3, 1200.0)),
            self::sound('ticket-punch', 'Ticket punch', 'stab', 0.0, 'hollow and short, cuts through', [new Wave(WaveKind::Pulse, levelDb: -8.0, width: 28.0), new Wave(WaveKind::Saw, levelDb: -12.0, semitones: 7)], self::amp(1.0, 200.0, 0.0, 90.0), new Filter(FilterShape::Band, false, 1400.0, 0.15, 0.0, 1500.0, 0.0, 90.0, 0.0, 0.3, 1200.0)),
            self::sound('brass-kettle', 'Brass kettle', 'stab', 2.0, 'swells into the beat and is gone', [new Wave(WaveKind::Saw, levelDb: -6.0, voices: 3, detune: 10.0, spread: 40.0)], self::amp(18.0, 420.0, 0.0, 140.0), self::low(600.0, 2600.0, 280.0, 0.05, false, 0.0, 0.1, 0.4, 1500.0)),
            self::sound('van-door', 'Van door', 'stab', -1.0, 'wide and blunt, low chords', [new Wave(WaveKind::Saw, levelDb: -7.0, voices: 7, detune: 22.0, spread: 60.0), new Wave(WaveKind::Sine, levelDb: -9.0)], self::amp(1.0, 300.0, 0.0, 110.0), self::low(900.0, 1900.0, 160.0, 0.1, true, 3.0, 0.0, 0.3, 1200.0)),
            self::sound('tin-horns', 'Tin horns', 'stab', 0.0, 'three of them, one late', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 3, detune: 16.0, spread: 50.0), new Wave(WaveKind::Pulse, levelDb: -12.0, width: 30.0, delayMs: 18.0)], self::amp(12.0, 360.0, 0.0, 120.0), self::low(1100.0, 2200.0, 220.0, 0.08, false, 4.0, 0.0, 0.3, 1400.0)),
            self::sound('organ-kick', 'Bench organ', 'stab', -6.5, 'dry pipes, cut off', [new Wave(WaveKind::Partials, levelDb: -6.0, partials: [1.0, 0.7, 0.5, 0.5, 0.2, 0.3]), new Wave(WaveKind::Noise, levelDb: -26.0, bright: 0.7, decayMs: 20.0)], self::amp(1.0, 240.0, 0.0, 60.0), self::low(3200.0, 900.0, 90.0, 0.0, false, 0.0, 0.0, 0.3, 1200.0)),
            self::sound('glass-stab', 'Broken pane', 'stab', -1.5, 'bright and short, for the fourth beat', [new Wave(WaveKind::Sine, levelDb: -5.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 7, depth: 1.8, strength: 0.5, decayMs: 240.0), new Wave(WaveKind::Saw, levelDb: -18.0, voices: 3, detune: 18.0, spread: 60.0)], self::amp(0.5, 320.0, 0.0, 140.0), self::low(5200.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.3, 1200.0)),
            self::sound('offbeat-skank', 'Second hand', 'stab', -0.5, 'a chop between the beats', [new Wave(WaveKind::Pulse, levelDb: -8.0, width: 20.0, voices: 2, detune: 8.0, spread: 30.0)], self::amp(0.5, 110.0, 0.0, 50.0), self::low(2600.0, 1200.0, 60.0, 0.1, false, 0.0, 0.0, 0.3, 1200.0)),
            self::sound('chord-lamp', 'Lamp that hums', 'stab', 0.5, 'swells backwards into its end', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 5, detune: 18.0, spread: 60.0)], new Envelope(220.0, 0.0, 90.0, 0.0, 60.0, -0.6), self::low(1500.0, 1200.0, 300.0, 0.05, false, 0.0, 0.0, 0.3, 1200.0)),
        ];
    }
}
