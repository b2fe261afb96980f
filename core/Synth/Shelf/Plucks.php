<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Route;
use Pestle\Core\Kit\RoutedBy;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Plucks: there at once, and closing. */
final class Plucks
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        return [
            self::sound('clothesline', 'Clothesline', 'pluck', -1.5, 'a string between two houses', [new Wave(WaveKind::String, levelDb: -2.0, width: 18.0, bright: 0.65, decayMs: 1100.0)], self::amp(1.0, 1400.0, 0.0, 160.0), self::low(2400.0, 1600.0, 180.0, 0.0, false, 0.0, 0.0, 0.4, 1800.0)),
            self::sound('rain-gutter', 'Rain gutter', 'pluck', -4.0, 'metal and short, answers the hats', [new Wave(WaveKind::Bar, levelDb: -4.0, bright: 0.6, decayMs: 500.0), new Wave(WaveKind::Sine, levelDb: -10.0, decayMs: 300.0)], self::amp(0.5, 700.0, 0.0, 120.0), self::low(3200.0, 1500.0, 120.0, 0.0, false, 0.0, 0.0, 0.3, 1800.0)),
            self::sound('chopsticks', 'Chopsticks', 'pluck', 5.5, 'wood on wood, with a pitch', [new Wave(WaveKind::Tube, levelDb: -4.0, bright: 0.55, decayMs: 260.0), new Wave(WaveKind::Noise, levelDb: -24.0, bright: 0.7, decayMs: 12.0)], self::amp(0.5, 400.0, 0.0, 80.0), self::low(2800.0, 1200.0, 80.0, 0.0, false, 0.0, 0.0, 0.4, 1500.0)),
            self::sound('wok-ring', 'Wok ring', 'pluck', -1.0, 'a pan that is not quite in tune, and right for it', [new Wave(WaveKind::Plate, levelDb: -3.0, bright: 0.55, decayMs: 800.0)], self::amp(0.5, 900.0, 0.0, 180.0), self::low(3000.0, 1000.0, 160.0, 0.0, false, 0.0, 0.0, 0.4, 1800.0)),
            self::sound('button-box', 'Button box', 'pluck', -6.5, 'closes at once, for runs of sixteenths', [new Wave(WaveKind::Saw, levelDb: -6.0), new Wave(WaveKind::Pulse, levelDb: -10.0, octave: 1, width: 40.0)], self::amp(1.0, 280.0, 0.0, 90.0), self::low(500.0, 3000.0, 120.0, 0.25, true, 0.0, 0.0, 0.5, 1500.0)),
            self::sound('fishing-line', 'Fishing line', 'pluck', -2.5, 'thin and bright, far to the top', [new Wave(WaveKind::String, levelDb: -2.0, octave: 1, width: 9.0, bright: 0.85, decayMs: 700.0)], self::amp(0.5, 900.0, 0.0, 120.0), self::low(4200.0, 1200.0, 120.0, 0.0, false, 0.0, 0.0, 0.3, 1600.0)),
            self::sound('rubber-band', 'Rubber band', 'pluck', -2.0, 'bends back as it dies', [new Wave(WaveKind::String, levelDb: -2.0, width: 35.0, bright: 0.45, decayMs: 500.0)], self::amp(0.5, 700.0, 0.0, 90.0), self::low(1600.0, 1600.0, 90.0, 0.0, false, 0.0, 0.0, 0.4, 1500.0), [], null, new Sweep(120.0, 0.0, 160.0)),
            self::sound('drops', 'Drops', 'pluck', -3.5, 'water in a jar, a note each', [new Wave(WaveKind::Sine, levelDb: -2.0)], self::amp(1.0, 180.0, 0.0, 80.0), self::low(3000.0, 900.0, 60.0, 0.0, false, 0.0, 0.0, 0.3, 1200.0), [], null, new Sweep(-500.0, 0.0, 60.0)),
            self::sound('tin-lid', 'Tin lid', 'pluck', 2.0, 'rattles before it rings', [new Wave(WaveKind::Plate, levelDb: -6.0, octave: 1, bright: 0.75, decayMs: 420.0), new Wave(WaveKind::Noise, levelDb: -20.0, bright: 0.9, decayMs: 25.0)], self::amp(0.5, 520.0, 0.0, 90.0), self::low(5200.0, 900.0, 90.0, 0.0, false, 0.0, 0.0, 0.3, 1500.0)),
            self::sound('clay-pot', 'Clay pot', 'pluck', -2.0, 'hollow and warm, low notes best', [new Wave(WaveKind::Skin, levelDb: -3.0, bright: 0.35, decayMs: 380.0), new Wave(WaveKind::Sine, levelDb: -8.0, decayMs: 260.0)], self::amp(0.5, 520.0, 0.0, 90.0), self::low(1800.0, 1200.0, 80.0, 0.0, false, 0.0, 0.0, 0.3, 1500.0), [], null, new Sweep(180.0, 0.0, 40.0)),
            self::sound('sparks', 'Sparks', 'pluck', -2.0, 'torn high and gone', [new Wave(WaveKind::Saw, levelDb: -6.0, semitones: 12), new Wave(WaveKind::Sine, WaveActs::Restarts), new Wave(WaveKind::Sine, levelDb: -12.0)], self::amp(0.5, 220.0, 0.0, 80.0), self::low(1200.0, 3000.0, 110.0, 0.15, false, 0.0, 0.0, 0.4, 1500.0)),
            self::sound('bell-cart', 'Bell cart', 'pluck', -2.0, 'a small bell that is passed by', [new Wave(WaveKind::Sine, levelDb: -4.0, octave: 1), new Wave(WaveKind::Sine, WaveActs::Bends, times: 5, semitones: 7, depth: 1.3, strength: 0.6, decayMs: 600.0)], self::amp(0.5, 1100.0, 0.0, 300.0), self::low(6000.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.3, 1200.0)),
            self::sound('uneven-tines', 'Uneven tines', 'pluck', -4.0, 'no two notes struck alike', [new Wave(WaveKind::Bar, levelDb: -4.0, bright: 0.5, decayMs: 900.0), new Wave(WaveKind::Sine, levelDb: -10.0, decayMs: 1100.0)], self::amp(0.5, 900.0, 0.0, 260.0), self::low(4200.0, 0.0, 200.0, 0.0, false), ['routes' => [new Route(RoutedBy::Chance, 'waves/0/bright', 0.25), new Route(RoutedBy::Chance, 'waves/0/decayMs', 0.04)]]),
        ];
    }
}
