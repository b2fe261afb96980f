<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Kit\Envelope;
use Pestle\Core\Kit\Filter;
use Pestle\Core\Kit\FilterShape;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\Lfo;
use Pestle\Core\Kit\LfoTarget;
use Pestle\Core\Kit\Sweep;
use Pestle\Core\Kit\Treatment;
use Pestle\Core\Kit\Wave;
use Pestle\Core\Kit\WaveActs;
use Pestle\Core\Kit\WaveKind;

/** Sounds that come with Pestle, made from nothing. Their levels are such that the middle note at a strength of 90 is at -18 LUFS (a test holds them to it). */
final class Shelf
{
    public const USES = ['bass' => 'Bass', 'keys' => 'Keys', 'pluck' => 'Plucks', 'pad' => 'Pads', 'stab' => 'Stabs', 'lead' => 'Leads', 'noise' => 'Noises'];
    /** How much of the level hangs on the strength. */
    private const STRENGTH = 1.0;

    /** @return array<string, ShelfSound> by id */
    public static function all(): array
    {
        $all = [];
        foreach ([...self::basses(), ...self::keys(), ...self::plucks(), ...self::pads(), ...self::stabs(), ...self::leads(), ...self::noises()] as $sound) {
            $all[$sound->id] = $sound;
        }

        return $all;
    }

    public static function find(string $id): ?ShelfSound
    {
        return self::all()[$id] ?? null;
    }

    /** The sound a new instrument begins with. */
    public static function plain(): Keys
    {
        return new Keys([], 'none', levelDb: -12.0, strength: self::STRENGTH, treatment: new Treatment(new Envelope(2.0, 0.0, 300.0, 0.6, 120.0), filter: new Filter(FilterShape::Low, false, 2400.0)), waves: [new Wave(WaveKind::Saw)]);
    }

    /**
     * @param list<Wave>           $waves
     * @param array<string, mixed> $more  settings of the instrument
     */
    private static function sound(string $id, string $name, string $use, float $levelDb, string $about, array $waves, Envelope $amp, Filter $filter = new Filter(), array $more = [], ?Lfo $lfo = null, ?Sweep $sweep = null): ShelfSound
    {
        $treatment = new Treatment($amp, $sweep ?? new Sweep(), $filter, $lfo ?? new Lfo());

        return new ShelfSound($id, $name, $use, $about, (new Keys([], 'none', levelDb: $levelDb, strength: self::STRENGTH, treatment: $treatment, waves: $waves))->with($more));
    }

    private static function low(float $hz, float $envelopeCents = 0.0, float $decayMs = 200.0, float $resonance = 0.0, bool $steep = true, float $driveDb = 0.0, float $sustain = 0.0, float $key = 0.3, float $strengthCents = 900.0): Filter
    {
        return new Filter(FilterShape::Low, $steep, $hz, $resonance, $driveDb, $envelopeCents, 0.0, $decayMs, $sustain, $key, $strengthCents);
    }

    private static function amp(float $attackMs, float $decayMs, float $sustain, float $releaseMs): Envelope
    {
        return new Envelope($attackMs, 0.0, $decayMs, $sustain, $releaseMs);
    }

    /** @return list<ShelfSound> */
    private static function basses(): array
    {
        $one = ['single' => true, 'legato' => true, 'glideMs' => 25];

        return [
            self::sound('cellar-jar', 'Cellar jar', 'bass', -5.0, 'round and close, for lines that walk', [new Wave(WaveKind::Saw, levelDb: -5.0), new Wave(WaveKind::Sine, levelDb: -3.0, octave: -1)], self::amp(3.0, 500.0, 0.65, 70.0), self::low(320.0, 1700.0, 260.0, 0.1), $one),
            self::sound('under-the-stairs', 'Under the stairs', 'bass', -4.5, 'a sub that small speakers still tell', [new Wave(WaveKind::Sine, levelDb: 0.0, octave: -1), new Wave(WaveKind::Triangle, levelDb: -20.0)], self::amp(5.0, 900.0, 0.8, 90.0), self::low(700.0, 0.0, 200.0, 0.0, false, 3.0), $one),
            self::sound('drain', 'Drain', 'bass', -7.0, 'hollow, with a gulp when it is hit hard', [new Wave(WaveKind::Pulse, levelDb: -6.0, width: 34.0), new Wave(WaveKind::Sine, levelDb: -4.0, octave: -1)], self::amp(2.0, 350.0, 0.5, 80.0), self::low(260.0, 2400.0, 140.0, 0.35), $one),
            self::sound('boiler', 'Boiler', 'bass', -4.0, 'wide above, still in the middle below', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 5, detune: 18.0, spread: 80.0), new Wave(WaveKind::Sine, levelDb: -3.0, octave: -1)], self::amp(4.0, 700.0, 0.7, 120.0), self::low(520.0, 1200.0, 420.0, 0.08), $one),
            self::sound('manhole', 'Manhole', 'bass', -2.0, 'a knock with a note in it', [new Wave(WaveKind::Sine, levelDb: -2.0, octave: -1), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 2.4, strength: 0.6, decayMs: 420.0)], self::amp(1.0, 800.0, 0.45, 90.0), new Filter(), ['single' => true]),
            self::sound('night-tram', 'Night tram', 'bass', -7.0, 'two saws that beat against each other, for long notes', [new Wave(WaveKind::Saw, levelDb: -6.0, cents: -9.0), new Wave(WaveKind::Saw, levelDb: -6.0, cents: 9.0), new Wave(WaveKind::Sine, levelDb: -6.0, octave: -1)], self::amp(8.0, 1200.0, 0.85, 140.0), self::low(430.0, 0.0, 200.0, 0.15), $one, new Lfo(LfoTarget::Cutoff, hz: 0.35, depth: 700.0)),
            self::sound('rubber-boot', 'Rubber boot', 'bass', -2.0, 'short and blunt, between the kicks', [new Wave(WaveKind::Triangle, levelDb: -2.0), new Wave(WaveKind::Skin, levelDb: -14.0, bright: 0.3, decayMs: 120.0)], self::amp(1.0, 260.0, 0.0, 60.0), self::low(600.0, 1200.0, 90.0, 0.0, false), ['single' => true]),
            self::sound('copper-wire', 'Copper wire', 'bass', -3.5, 'plucked and stringy, with fingers', [new Wave(WaveKind::String, levelDb: -2.0, octave: -1, width: 22.0, bright: 0.5, decayMs: 1800.0), new Wave(WaveKind::Sine, levelDb: -10.0, octave: -1, decayMs: 900.0)], self::amp(1.0, 2500.0, 0.3, 90.0), self::low(1400.0, 0.0, 200.0, 0.0, false), ['single' => true]),
        ];
    }

    /** @return list<ShelfSound> */
    private static function keys(): array
    {
        return [
            self::sound('spoon-drawer', 'Spoon drawer', 'keys', -8.5, 'bell-like at the strike, warm after it', [new Wave(WaveKind::Sine, levelDb: -3.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 14, depth: 0.9, strength: 0.7, decayMs: 380.0), new Wave(WaveKind::Sine, levelDb: -9.0, cents: 3.0), new Wave(WaveKind::Noise, levelDb: -30.0, bright: 0.6, decayMs: 18.0)], self::amp(1.0, 2600.0, 0.2, 220.0), self::low(3600.0, 0.0, 200.0, 0.0, false, 0.0, 0.0, 0.5, 1500.0)),
            self::sound('back-room', 'Back room', 'keys', -6.0, 'dark hammers, for chords that lean back', [new Wave(WaveKind::Triangle, levelDb: -4.0), new Wave(WaveKind::Triangle, levelDb: -8.0, cents: 3.0), new Wave(WaveKind::Sine, WaveActs::Bends, depth: 0.8, strength: 0.8, decayMs: 300.0), new Wave(WaveKind::Noise, levelDb: -28.0, bright: 0.4, decayMs: 16.0)], self::amp(2.0, 1800.0, 0.25, 200.0), self::low(1100.0, 1400.0, 350.0, 0.0, false)),
            self::sound('chapel-window', 'Chapel window', 'keys', -9.0, 'drawn pipes with no hurry', [new Wave(WaveKind::Partials, levelDb: -6.0, voices: 2, detune: 6.0, partials: [1.0, 0.6, 0.35, 0.3, 0.0, 0.18, 0.0, 0.12])], self::amp(14.0, 200.0, 0.9, 160.0), new Filter(), [], new Lfo(LfoTarget::Level, hz: 5.6, depth: 6.0, delayMs: 300.0)),
            self::sound('coin-organ', 'Coin organ', 'keys', -11.0, 'reedy and bright, from the corner of the fair', [new Wave(WaveKind::Pulse, levelDb: -8.0, width: 30.0), new Wave(WaveKind::Partials, levelDb: -8.0, octave: 1, partials: [1.0, 0.0, 0.5, 0.0, 0.25])], self::amp(6.0, 150.0, 0.85, 90.0), self::low(2600.0, 0.0, 200.0, 0.0, false)),
            self::sound('frost', 'Frost', 'keys', -5.5, 'glass and air, an octave up', [new Wave(WaveKind::Sine, levelDb: -4.0, octave: 1), new Wave(WaveKind::Sine, WaveActs::Bends, times: 3, depth: 1.6, strength: 0.6, decayMs: 700.0), new Wave(WaveKind::Plate, levelDb: -16.0, octave: 1, bright: 0.5, decayMs: 900.0)], self::amp(2.0, 2200.0, 0.2, 500.0), self::low(5200.0, 0.0, 200.0, 0.0, false)),
        ];
    }

    /** @return list<ShelfSound> */
    private static function plucks(): array
    {
        return [
            self::sound('clothesline', 'Clothesline', 'pluck', 0.0, 'a string between two houses', [new Wave(WaveKind::String, levelDb: -2.0, width: 18.0, bright: 0.65, decayMs: 1100.0)], self::amp(1.0, 1400.0, 0.0, 160.0), self::low(2400.0, 1600.0, 180.0, 0.0, false, 0.0, 0.0, 0.4, 1800.0)),
            self::sound('rain-gutter', 'Rain gutter', 'pluck', -2.5, 'metal and short, answers the hats', [new Wave(WaveKind::Bar, levelDb: -4.0, bright: 0.6, decayMs: 500.0), new Wave(WaveKind::Sine, levelDb: -10.0, decayMs: 300.0)], self::amp(0.5, 700.0, 0.0, 120.0), self::low(3200.0, 1500.0, 120.0, 0.0, false, 0.0, 0.0, 0.3, 1800.0)),
            self::sound('chopsticks', 'Chopsticks', 'pluck', 5.5, 'wood on wood, with a pitch', [new Wave(WaveKind::Tube, levelDb: -4.0, bright: 0.55, decayMs: 260.0), new Wave(WaveKind::Noise, levelDb: -24.0, bright: 0.7, decayMs: 12.0)], self::amp(0.5, 400.0, 0.0, 80.0), self::low(2800.0, 1200.0, 80.0, 0.0, false, 0.0, 0.0, 0.4, 1500.0)),
            self::sound('wok-ring', 'Wok ring', 'pluck', 0.5, 'a pan that is not quite in tune, and right for it', [new Wave(WaveKind::Plate, levelDb: -3.0, bright: 0.55, decayMs: 800.0)], self::amp(0.5, 900.0, 0.0, 180.0), self::low(3000.0, 1000.0, 160.0, 0.0, false, 0.0, 0.0, 0.4, 1800.0)),
            self::sound('button-box', 'Button box', 'pluck', -5.0, 'closes at once, for runs of sixteenths', [new Wave(WaveKind::Saw, levelDb: -6.0), new Wave(WaveKind::Pulse, levelDb: -10.0, octave: 1, width: 40.0)], self::amp(1.0, 280.0, 0.0, 90.0), self::low(500.0, 3000.0, 120.0, 0.25, true, 0.0, 0.0, 0.5, 1500.0)),
        ];
    }

    /** @return list<ShelfSound> */
    private static function pads(): array
    {
        return [
            self::sound('steam-on-glass', 'Steam on glass', 'pad', -8.0, 'opens slowly behind everything', [new Wave(WaveKind::Saw, levelDb: -8.0, voices: 7, detune: 22.0, spread: 70.0), new Wave(WaveKind::Triangle, levelDb: -10.0)], self::amp(260.0, 900.0, 0.85, 900.0), self::low(900.0, 800.0, 1500.0, 0.05, false, 0.0, 0.6), [], new Lfo(LfoTarget::Cutoff, hz: 0.17, depth: 600.0)),
            self::sound('wet-awning', 'Wet awning', 'pad', -7.0, 'hollow, it breathes with the rain', [new Wave(WaveKind::Pulse, levelDb: -8.0, voices: 3, detune: 12.0, spread: 55.0, sway: 28.0, swayHz: 0.31), new Wave(WaveKind::Noise, levelDb: -34.0, bright: 0.5)], self::amp(180.0, 600.0, 0.85, 700.0), self::low(1300.0, 0.0, 200.0, 0.0, false)),
            self::sound('dawn-market', 'Dawn market', 'pad', -4.5, 'bright at the edges, warm inside', [new Wave(WaveKind::Saw, levelDb: -9.0, voices: 5, detune: 16.0, spread: 65.0), new Wave(WaveKind::Saw, levelDb: -16.0, octave: 1, voices: 3, detune: 20.0, spread: 90.0), new Wave(WaveKind::Sine, levelDb: -8.0)], self::amp(120.0, 900.0, 0.8, 800.0), self::low(2200.0, 0.0, 200.0, 0.0, false)),
            self::sound('fog-over-rails', 'Fog over rails', 'pad', -10.5, 'soft voices without words', [new Wave(WaveKind::Partials, levelDb: -6.0, voices: 5, detune: 16.0, spread: 65.0, partials: [1.0, 0.5, 0.7, 0.3, 0.4, 0.15, 0.2, 0.1]), new Wave(WaveKind::Noise, levelDb: -32.0, bright: 0.35)], self::amp(220.0, 700.0, 0.85, 800.0), self::low(1500.0, 0.0, 200.0, 0.0, false), [], new Lfo(LfoTarget::Pitch, hz: 4.6, depth: 7.0, delayMs: 600.0)),
            self::sound('slow-bell', 'Slow bell', 'pad', -6.5, 'a strike that stays in the air', [new Wave(WaveKind::Sine, levelDb: -5.0, voices: 3, detune: 10.0, spread: 60.0), new Wave(WaveKind::Sine, WaveActs::Bends, times: 2, depth: 1.4, decayMs: 3500.0)], self::amp(60.0, 3000.0, 0.5, 1200.0), self::low(2600.0, 0.0, 200.0, 0.0, false)),
        ];
    }

    /** @return list<ShelfSound> */
    private static function stabs(): array
    {
        return [
            self::sound('shutter', 'Shutter', 'stab', 8.0, 'a chord that slams, for the offbeat', [new Wave(WaveKind::Saw, levelDb: -7.0, voices: 5, detune: 14.0, spread: 50.0)], self::amp(1.0, 260.0, 0.0, 120.0), new Filter(FilterShape::Band, false, 1100.0, 0.1, 0.0, 1200.0, 0.0, 140.0, 0.0, 0.3, 1200.0)),
            self::sound('ticket-punch', 'Ticket punch', 'stab', 1.5, 'hollow and short, cuts through', [new Wave(WaveKind::Pulse, levelDb: -8.0, width: 28.0), new Wave(WaveKind::Saw, levelDb: -12.0, semitones: 7)], self::amp(1.0, 200.0, 0.0, 90.0), new Filter(FilterShape::Band, false, 1400.0, 0.15, 0.0, 1500.0, 0.0, 90.0, 0.0, 0.3, 1200.0)),
            self::sound('brass-kettle', 'Brass kettle', 'stab', 3.5, 'swells into the beat and is gone', [new Wave(WaveKind::Saw, levelDb: -6.0, voices: 3, detune: 10.0, spread: 40.0)], self::amp(18.0, 420.0, 0.0, 140.0), self::low(600.0, 2600.0, 280.0, 0.05, false, 0.0, 0.1, 0.4, 1500.0)),
        ];
    }

    /** @return list<ShelfSound> */
    private static function leads(): array
    {
        $one = ['single' => true, 'legato' => true, 'glideMs' => 45];
        $vibrato = new Lfo(LfoTarget::Pitch, hz: 5.2, depth: 16.0, delayMs: 350.0);

        return [
            self::sound('tin-flute', 'Tin flute', 'lead', -7.5, 'breath first, then the note', [new Wave(WaveKind::Triangle, levelDb: -3.0), new Wave(WaveKind::Noise, levelDb: -24.0, bright: 0.6), new Wave(WaveKind::Noise, levelDb: -14.0, bright: 0.55, decayMs: 60.0)], self::amp(28.0, 300.0, 0.85, 110.0), self::low(2800.0, 0.0, 200.0, 0.0, false), $one, $vibrato),
            self::sound('kettle-whistle', 'Kettle whistle', 'lead', -11.0, 'thin and high, for a line above the hats', [new Wave(WaveKind::Sine, levelDb: -3.0, octave: 1), new Wave(WaveKind::Sine, levelDb: -18.0, octave: 2), new Wave(WaveKind::Noise, levelDb: -26.0, bright: 0.8)], self::amp(20.0, 200.0, 0.9, 120.0), new Filter(), $one, $vibrato),
            self::sound('neon', 'Neon', 'lead', -4.5, 'torn at the edge, with a buzz', [new Wave(WaveKind::Saw, levelDb: -6.0, semitones: 7), new Wave(WaveKind::Sine, WaveActs::Restarts)], self::amp(4.0, 400.0, 0.75, 120.0), self::low(2600.0, 1000.0, 300.0, 0.1, false), $one, $vibrato),
            self::sound('overhead-line', 'Overhead line', 'lead', -5.5, 'one saw that slides', [new Wave(WaveKind::Saw, levelDb: -6.0, voices: 2, detune: 9.0, spread: 20.0)], self::amp(6.0, 500.0, 0.8, 130.0), self::low(2200.0, 700.0, 400.0, 0.12, false), $one, $vibrato),
        ];
    }

    /** @return list<ShelfSound> */
    private static function noises(): array
    {
        return [
            self::sound('pipe-steam', 'Pipe steam', 'noise', 6.5, 'rises where it is held, for the bar before', [new Wave(WaveKind::Noise, levelDb: -4.0, bright: 0.75, spread: 80.0)], self::amp(900.0, 400.0, 0.8, 350.0), new Filter(FilterShape::Band, false, 900.0, 0.2, 0.0, 2400.0, 2000.0, 3000.0, 0.7, 0.4, 600.0)),
            self::sound('gravel', 'Gravel', 'noise', 12.0, 'short and dry, a step on the offbeat', [new Wave(WaveKind::Noise, levelDb: -4.0, bright: 0.6, spread: 60.0)], self::amp(1.0, 120.0, 0.0, 60.0), new Filter(FilterShape::Band, false, 2200.0, 0.1, 0.0, 1200.0, 0.0, 80.0, 0.0, 0.4, 1200.0)),
        ];
    }
}
