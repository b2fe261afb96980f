<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Signal\Biquad;
use Pestle\Core\Synth\Tone;

/** A drum kit of oscillators and noise whose numbers are drawn by chance: what drum machines and sound designers make. */
final class SynthKit
{
    private readonly Tone $tone;
    /** @var array<string, list<float>> one sound by kind */
    private array $sounds = [];

    public function __construct(private readonly int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    /**
     * @param string $name a kind, and what tells it from others of its kind behind a space
     *
     * @return list<float> one channel, at most 1
     */
    public function sound(string $name): array
    {
        return $this->sounds[$name] ??= self::levelled(match (preg_replace('/ \d+$/', '', $name)) {
            'kick' => $this->fallen(Chance::between(90, 320), Chance::between(38, 68), Chance::between(0.015, 0.07), Chance::between(0.18, 0.8), Chance::between(0.0, 0.5), Chance::between(0.6, 3.0)),
            'tom' => $this->fallen($hz = Chance::between(110, 330), $hz * Chance::between(0.55, 0.85), Chance::between(0.05, 0.15), Chance::between(0.25, 0.6), Chance::between(0.0, 0.3), 1.0),
            'snare' => $this->snare(),
            'clap' => $this->clap(),
            'rim' => $this->struck(Chance::between(420, 1900), [1.0, Chance::between(1.4, 2.6)], Chance::between(0.02, 0.06), 0.4),
            'closed hat' => $this->metal(Chance::between(0.025, 0.11)),
            'open hat' => $this->metal(Chance::between(0.25, 0.7)),
            'cymbal' => $this->metal(Chance::between(1.1, 2.4)),
            default => match (mt_rand(0, 3)) {
                0 => $this->struck(Chance::between(480, 900), [1.0, Chance::between(1.45, 1.55)], Chance::between(0.1, 0.35), 0.1),
                1 => $this->struck(Chance::between(200, 520), [1.0, Chance::between(1.5, 2.3)], Chance::between(0.08, 0.25), 0.25),
                2 => $this->struck(Chance::between(1800, 3600), [1.0, 2.3, 3.1], Chance::between(0.3, 0.8), 0.05),
                default => $this->shaken(),
            },
        });
    }

    /** @return list<float> a sine that falls, with a click */
    private function fallen(float $from, float $to, float $fall, float $decay, float $click, float $drive): array
    {
        $phase = 0.0;
        $body = [];
        for ($i = 0, $n = $this->tone->frames(1.1 * $decay); $i < $n; ++$i) {
            $phase += 2 * \M_PI * ($to + ($from - $to) * exp(-3.0 * $i / ($fall * $this->sampleRate))) / $this->sampleRate;
            $body[] = sin($phase);
        }
        $body = Tone::shaped($body, $this->tone->envelope(1.1 * $decay, 0.001, $decay));
        $front = Tone::shaped($this->tone->band(0.02, Chance::between(700, 2500), Chance::between(4000, 12000), mt_rand(1, 9999)), $this->tone->envelope(0.02, 0.0002, Chance::between(0.004, 0.014)));

        return Tone::warm(Tone::mixed([[$body, 1.0], [$front, $click]]), $drive);
    }

    /** @return list<float> */
    private function snare(): array
    {
        $hz = Chance::between(150, 280);
        $skin = Chance::between(0.08, 0.22);
        $wires = Chance::between(0.1, 0.35);
        $low = Tone::shaped($this->tone->sine(0.5, $hz), $this->tone->envelope(0.5, 0.0006, $skin));
        $high = Tone::shaped($this->tone->sine(0.5, $hz * Chance::between(1.5, 2.0)), $this->tone->envelope(0.5, 0.0006, 0.7 * $skin));
        $noise = Tone::shaped($this->tone->band(0.5, Chance::between(900, 2500), Chance::between(5500, 15000), mt_rand(1, 9999)), $this->tone->envelope(0.5, 0.001, $wires));

        return Tone::warm(Tone::mixed([[$low, Chance::between(0.3, 0.8)], [$high, Chance::between(0.1, 0.5)], [$noise, Chance::between(0.5, 1.2)]]), Chance::between(0.6, 2.0));
    }

    /** @return list<float> */
    private function clap(): array
    {
        $apart = Chance::between(0.007, 0.014);
        [$low, $high] = [Chance::between(600, 1300), Chance::between(3500, 9000)];
        $parts = [];
        for ($k = 0, $bursts = mt_rand(2, 4); $k < $bursts; ++$k) {
            $burst = Tone::shaped($this->tone->band(0.02, $low, $high, mt_rand(1, 9999)), $this->tone->envelope(0.02, 0.0004, 0.012));
            $parts[] = [[...array_fill(0, 1 + $this->tone->frames($k * $apart), 0.0), ...$burst], 0.8];
        }
        $tail = Tone::shaped($this->tone->band(0.4, $low, $high, mt_rand(1, 9999)), $this->tone->envelope(0.4, 0.001, Chance::between(0.1, 0.35)));
        $parts[] = [[...array_fill(0, 1 + $this->tone->frames($bursts * $apart), 0.0), ...$tail], Chance::between(0.3, 0.8)];

        return Tone::mixed($parts);
    }

    /**
     * @param list<float> $ratios
     *
     * @return list<float>
     */
    private function struck(float $hz, array $ratios, float $decay, float $noise): array
    {
        $seconds = 1.1 * $decay + 0.02;
        $parts = [[Tone::shaped($this->tone->band(0.02, 1500, 9000, mt_rand(1, 9999)), $this->tone->envelope(0.02, 0.0003, 0.01)), $noise]];
        foreach ($ratios as $k => $ratio) {
            $parts[] = [Tone::shaped($this->tone->sine($seconds, $hz * $ratio), $this->tone->envelope($seconds, 0.0006, $decay / (1 + 0.5 * $k))), 1.0 / (1 + $k)];
        }

        return Tone::mixed($parts);
    }

    /** @return list<float> square waves of no common measure, high-passed, with noise */
    private function metal(float $decay): array
    {
        $seconds = min(2.0, 1.1 * $decay);
        $base = Chance::between(250, 520);
        $sum = [[$this->tone->band($seconds, Chance::between(4500, 8000), Chance::between(11000, 18000), mt_rand(1, 9999)), Chance::between(0.3, 1.0)]];
        foreach ([1.0, 1.483, 1.803, 2.549, 2.634, 3.902] as $ratio) {
            $square = array_map(static fn (float $x): float => $x > 0.0 ? 0.25 : -0.25, $this->tone->sine($seconds, $base * $ratio));
            $sum[] = [$square, Chance::between(0.2, 1.0)];
        }
        $bright = Biquad::highPass(Chance::between(4500, 8500), 0.8, $this->sampleRate)->filter(Tone::mixed($sum));

        return Tone::shaped($bright, $this->tone->envelope($seconds, 0.0008, $decay));
    }

    /** @return list<float> */
    private function shaken(): array
    {
        $decay = Chance::between(0.05, 0.13);

        return Tone::shaped($this->tone->band(0.2, Chance::between(3500, 6000), Chance::between(9000, 15000), mt_rand(1, 9999)), $this->tone->envelope(0.2, Chance::between(0.008, 0.02), $decay));
    }

    /**
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function levelled(array $sound): array
    {
        $peak = max([1e-9, ...array_map(abs(...), $sound)]);

        return array_map(static fn (float $x): float => $x / $peak, $sound);
    }
}
