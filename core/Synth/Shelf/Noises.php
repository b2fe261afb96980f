<?php

namespace Pestle\Core\Synth\Shelf;

use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveKind;
use Pestle\Core\Synth\ShelfSound;

/** Noises: what the street gives, by the key. */
final class Noises
{
    use Making;

    /** @return list<ShelfSound> */
    public static function all(): array
    {
        return [
            self::sound('pipe-steam', 'Pipe steam', 'noise', 6.5, 'rises where it is held, for the bar before', [new Wave(WaveKind::Noise, levelDb: -4.0, bright: 0.75, spread: 80.0)], self::amp(900.0, 400.0, 0.8, 350.0), new Filter(FilterShape::Band, false, 900.0, 0.2, 0.0, 2400.0, 2000.0, 3000.0, 0.7, 0.4, 600.0)),
            self::sound('gravel', 'Gravel', 'noise', 12.0, 'short and dry, a step on the offbeat', [new Wave(WaveKind::Noise, levelDb: -4.0, bright: 0.6, spread: 60.0)], self::amp(1.0, 120.0, 0.0, 60.0), new Filter(FilterShape::Band, false, 2200.0, 0.1, 0.0, 1200.0, 0.0, 80.0, 0.0, 0.4, 1200.0)),
            self::sound('far-traffic', 'Far traffic', 'noise', -5.5, 'a floor under the song', [new Wave(WaveKind::Noise, levelDb: -2.0, bright: 0.35, spread: 90.0)], self::amp(600.0, 500.0, 0.9, 900.0), self::low(700.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Level, hz: 0.13, depth: 30.0)),
            self::sound('rain-sheet', 'Rain on a sheet', 'noise', -3.5, 'even and bright, to be drawn in and out', [new Wave(WaveKind::Noise, levelDb: -4.0, bright: 0.85, spread: 90.0)], self::amp(200.0, 400.0, 0.9, 500.0), new Filter(FilterShape::High, false, 1400.0, 0.0, 0.0, 0.0, 0.0, 200.0, 0.0, 0.4, 600.0)),
            self::sound('match', 'Match', 'noise', 5.5, 'struck, flares, dies', [new Wave(WaveKind::Noise, levelDb: -2.0, bright: 0.7, spread: 50.0)], self::amp(4.0, 320.0, 0.0, 120.0), new Filter(FilterShape::Band, false, 1500.0, 0.1, 0.0, 2000.0, 60.0, 220.0, 0.0, 0.3, 1200.0)),
            self::sound('falling-pipe', 'Falling pipe', 'noise', 8.5, 'down and out, at the end of a part', [new Wave(WaveKind::Noise, levelDb: -3.0, bright: 0.7, spread: 70.0), new Wave(WaveKind::Tube, levelDb: -10.0, bright: 0.5, decayMs: 900.0)], self::amp(1.0, 1300.0, 0.0, 300.0), new Filter(FilterShape::Band, false, 500.0, 0.25, 0.0, 3600.0, 0.0, 1200.0, 0.0, 0.4, 600.0)),
            self::sound('wire-hum', 'Wire hum', 'noise', -10.0, 'a transformer behind the wall', [new Wave(WaveKind::Partials, levelDb: -6.0, partials: [0.5, 1.0, 0.2, 0.6, 0.1, 0.4, 0.1, 0.25]), new Wave(WaveKind::Noise, levelDb: -34.0, bright: 0.6)], self::amp(120.0, 300.0, 0.95, 250.0), self::low(1400.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Level, hz: 7.3, depth: 14.0)),
        ];
    }
}
