<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Kit\Role;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Noise;
use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** A drum voice made from nothing, by the few things a drummer would say of it. With another seed it is another one like it. */
final readonly class DrumSound implements Settable
{
    use Settings;

    public const ROLES = [Role::Kick, Role::Snare, Role::Clap, Role::Hat, Role::OpenHat, Role::Tom, Role::Cymbal, Role::Percussion];
    /** What a kit of sixteen is made of, pad by pad. */
    private const KIT = [Role::Kick, Role::Snare, Role::Hat, Role::OpenHat, Role::Clap, Role::Percussion, Role::Tom, Role::Cymbal, Role::Kick, Role::Snare, Role::Hat, Role::Percussion, Role::Percussion, Role::Tom, Role::Tom, Role::Clap];
    private const RATE = 44_100;
    /** Ratios of squares that have no common measure: what metal is heard by. */
    private const METAL = [1.0, 1.342, 1.231, 1.652, 1.983, 2.547];

    /**
     * @param float $tune   semitones against what its role usually has
     * @param float $drop   semitones by which its pitch falls at first
     * @param float $body   how much of the body is heard, 0 to 1
     * @param float $click  how hard it is struck, 0 to 1
     * @param float $wires  snares, grain or metal: 0 to 1
     * @param float $length against what is usual, 0.25 to 3
     * @param float $dirt   dB into a soft limit
     */
    public function __construct(public Role $role, public float $tune = 0.0, public float $drop = 12.0, public float $body = 0.7, public float $click = 0.5, public float $wires = 0.5, public float $length = 1.0, public float $dirt = 3.0, public int $seed = 1)
    {
        if (!\in_array($role, self::ROLES, true)) {
            throw new \InvalidArgumentException('A drum is one of: '.implode(', ', array_map(static fn (Role $r): string => $r->value, self::ROLES)).'.');
        }
    }

    public static function parameters(): array
    {
        return [
            'tune' => Parameter::number('Pitch', 'st', -24.0, 24.0, 0.0, 0.5),
            'drop' => Parameter::number('Falls by', 'st', 0.0, 36.0, 12.0, 0.5),
            'body' => Parameter::number('Body', '', 0.0, 1.0, 0.7, 0.01, 2),
            'click' => Parameter::number('Skin', '', 0.0, 1.0, 0.5, 0.01, 2),
            'wires' => Parameter::number('Wires', '', 0.0, 1.0, 0.5, 0.01, 2),
            'length' => Parameter::number('Length', 'times', 0.25, 3.0, 1.0, 0.05, 2),
            'dirt' => Parameter::number('Dirt', 'dB', 0.0, 24.0, 3.0, 0.5),
        ];
    }

    public function with(array $changed): static
    {
        /** @var array{role: Role, tune: float, drop: float, body: float, click: float, wires: float, length: float, dirt: float, seed: int} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** One of a role, by chance from a seed, within what is healthy for it. */
    public static function by(Role $role, int $seed): self
    {
        $noise = new Noise($seed);
        $between = static fn (float $least, float $most): float => round($least + ($most - $least) * 0.5 * (1.0 + $noise->next()), 2);

        return match ($role) {
            Role::Kick => new self($role, $between(-3, 4), $between(12, 26), $between(0.75, 1.0), $between(0.15, 0.7), $between(0.0, 0.25), $between(0.6, 1.25), $between(1, 7), $seed),
            Role::Snare => new self($role, $between(-4, 5), $between(2, 7), $between(0.4, 0.8), $between(0.3, 0.8), $between(0.45, 0.9), $between(0.6, 1.4), $between(0, 6), $seed),
            Role::Tom => new self($role, $between(-7, 7), $between(3, 9), $between(0.8, 1.0), $between(0.2, 0.6), $between(0.0, 0.25), $between(0.7, 1.3), $between(0, 4), $seed),
            default => new self($role, $between(-6, 6), $between(0, 8), $between(0.3, 0.9), $between(0.3, 0.8), $between(0.4, 0.9), $between(0.6, 1.4), $between(0, 5), $seed),
        };
    }

    /** @return list<self> sixteen that belong together */
    public static function kit(int $seed): array
    {
        return array_map(static fn (Role $role, int $i): self => self::by($role, 97 * $seed + 13 * $i + 1), self::KIT, array_keys(self::KIT));
    }

    /** Another one like it: as it is set, struck from other noise, a little off. */
    public function another(int $seed): self
    {
        $noise = new Noise($seed);
        $near = static fn (float $value, float $by, float $least, float $most): float => round(max($least, min($most, $value + $by * $noise->next())), 2);

        return $this->with(['seed' => $seed, 'tune' => $near($this->tune, 1.5, -24.0, 24.0), 'drop' => $near($this->drop, 2.5, 0.0, 36.0), 'body' => $near($this->body, 0.15, 0.0, 1.0), 'click' => $near($this->click, 0.2, 0.0, 1.0), 'wires' => $near($this->wires, 0.2, 0.0, 1.0), 'length' => $near($this->length, 0.2, 0.25, 3.0)]);
    }

    public function sound(): StereoBlock
    {
        $tone = new Tone(self::RATE);
        $dry = match ($this->role) {
            Role::Kick => $this->drum($tone, 50.0, 0.34, [[1.0, 1.0, 1.0]], 0.0),
            Role::Tom => $this->drum($tone, 110.0, 0.42, [[1.0, 1.0, 1.0], [1.59, 0.25, 0.5]], 0.15),
            Role::Snare => $this->drum($tone, 185.0, 0.22, [[1.0, 0.8, 1.0], [1.79, 0.5, 0.7]], 1.0),
            Role::Clap => $this->clap($tone),
            Role::Hat => $this->metal($tone, 0.07, 6500.0),
            Role::OpenHat => $this->metal($tone, 0.55, 6000.0),
            Role::Cymbal => $this->metal($tone, 1.6, 3200.0),
            default => $this->block($tone),
        };
        $driven = $this->dirt > 0.0 ? Tone::warm($dry, 10.0 ** ($this->dirt / 20.0)) : $dry;

        return $tone->finished(Biquad::highPass(22.0, 0.71, self::RATE)->filter($driven), null, 0.8);
    }

    private function times(float $hz): float
    {
        return $hz * 2.0 ** ($this->tune / 12.0);
    }

    /**
     * A skin whose pitch falls, how it is struck, and what rattles with it.
     *
     * @param list<array{float, float, float}> $modes ratio, level, and length against the first
     *
     * @return list<float>
     */
    private function drum(Tone $tone, float $hz, float $seconds, array $modes, float $wires): array
    {
        $seconds *= $this->length;
        $parts = [];
        foreach ($modes as [$ratio, $level, $long]) {
            $parts[] = [Tone::shaped($this->falling($tone, $this->times($hz) * $ratio, 1.2 * $seconds), $tone->envelope(1.2 * $seconds, 0.0008, $seconds * $long)), $level * (0.25 + 0.75 * $this->body)];
        }
        $parts[] = [Tone::shaped($tone->band(0.014, 1200.0, 7000.0, $this->seed), $tone->envelope(0.014, 0.0002, 0.006)), 0.9 * $this->click];
        $long = $seconds * (0.8 + 0.6 * $this->wires);
        $parts[] = [Tone::shaped($tone->band($long, 1100.0, 8200.0, $this->seed + 1), $tone->envelope($long, 0.001, $long)), ($wires + 0.12) * $this->wires * 1.1];

        return Tone::mixed($parts);
    }

    /** @return list<float> a sine that begins higher and is there after a twentieth of a second */
    private function falling(Tone $tone, float $hz, float $seconds): array
    {
        $phase = 0.0;
        $out = [];
        for ($i = 0, $n = $tone->frames($seconds); $i < $n; ++$i) {
            $phase += $hz * 2.0 ** ($this->drop * exp(-$i / (0.016 * self::RATE)) / 12.0) / self::RATE;
            $out[] = sin(2.0 * \M_PI * $phase);
        }

        return $out;
    }

    /** @return list<float> hands that are not together, and the room they are in */
    private function clap(Tone $tone): array
    {
        $noise = new Noise($this->seed);
        $parts = [];
        $at = 0.0;
        foreach ([1.0, 0.8, 0.9, 0.7] as $level) {
            $burst = Tone::shaped($tone->band(0.03, $this->times(900.0), 6500.0, $this->seed + (int) (1000 * $at)), $tone->envelope(0.03, 0.0004, 0.012));
            $parts[] = [[...array_fill(0, $tone->frames($at), 0.0), ...$burst], $level * (0.5 + 0.5 * $this->click)];
            $at += 0.0105 + 0.0022 * $noise->next();
        }
        $long = (0.12 + 0.25 * $this->wires) * $this->length;
        $parts[] = [[...array_fill(0, $tone->frames($at - 0.01), 0.0), ...Tone::shaped($tone->band($long, $this->times(1000.0), 5200.0, $this->seed + 9), $tone->envelope($long, 0.002, $long))], 0.6];

        return Tone::mixed($parts);
    }

    /** @return list<float> six squares of no common measure under noise, without their lows */
    private function metal(Tone $tone, float $seconds, float $lowHz): array
    {
        $seconds *= $this->length;
        $squares = array_fill(0, $tone->frames($seconds), 0.0);
        foreach (self::METAL as $k => $ratio) {
            // Summed as sines below half the rate, so that nothing folds back.
            for ($h = 1, $hz = $this->times(540.0) * $ratio * (1.0 + 0.01 * (($this->seed + 3 * $k) % 7 - 3)); $h * $hz < 18_000.0; $h += 2) {
                foreach ($tone->sine($seconds, $h * $hz, 0.7 * $k) as $i => $x) {
                    $squares[$i] += $x / $h;
                }
            }
        }
        $metal = Biquad::highPass($lowHz, 0.71, self::RATE)->filter(Biquad::highPass($lowHz, 0.71, self::RATE)->filter(array_values($squares)));
        $grain = $tone->band($seconds, $lowHz, 16_000.0, $this->seed);
        $stick = Tone::shaped($tone->band(0.01, 3000.0, 12_000.0, $this->seed + 2), $tone->envelope(0.01, 0.0002, 0.006));

        return Tone::mixed([[Tone::shaped(Tone::mixed([[$metal, 0.5 * $this->body], [$grain, 0.35 + $this->wires]]), $tone->envelope($seconds, 0.0006, $seconds * 0.95)), 1.0], [$stick, 0.8 * $this->click]]);
    }

    /** @return list<float> wood or metal that is small */
    private function block(Tone $tone): array
    {
        $seconds = 0.18 * $this->length;
        $hz = $this->times(420.0 + 60.0 * ($this->seed % 9));
        $parts = [];
        foreach ([1.0, 2.76, 5.4] as $k => $ratio) {
            $parts[] = [Tone::shaped($this->falling($tone, $hz * $ratio, $seconds), $tone->envelope($seconds, 0.0005, $seconds / (1.0 + 0.8 * $k))), $this->body / (1.0 + 1.4 * $k)];
        }
        $parts[] = [Tone::shaped($tone->band($seconds, 2500.0, 11_000.0, $this->seed), $tone->envelope($seconds, 0.004, $seconds * 0.7)), 0.5 * $this->wires];
        $parts[] = [Tone::shaped($tone->band(0.008, 1500.0, 9000.0, $this->seed + 5), $tone->envelope(0.008, 0.0002, 0.005)), 0.7 * $this->click];

        return Tone::mixed($parts);
    }
}
