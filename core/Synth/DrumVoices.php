<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;

/** Struck sounds from oscillators and noise. */
final readonly class DrumVoices
{
    private Tone $tone;

    public function __construct(private int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    /** A sine that falls from $fromHz to $toHz, with a click and some warmth. */
    public function kick(float $fromHz = 150.0, float $toHz = 48.0, float $fall = 0.045, float $decay = 0.6): StereoBlock
    {
        $seconds = $decay * 1.1;
        $phase = 0.0;
        $body = [];
        for ($i = 0, $n = $this->tone->frames($seconds); $i < $n; ++$i) {
            $hz = $toHz + ($fromHz - $toHz) * exp(-3.0 * $i / ($fall * $this->sampleRate));
            $phase += 2 * \M_PI * $hz / $this->sampleRate;
            $body[] = sin($phase);
        }
        $body = Tone::shaped($body, $this->tone->envelope($seconds, 0.0008, $decay));
        $click = Tone::shaped($this->tone->band(0.012, 1200, 6000, 3), $this->tone->envelope(0.012, 0.0002, 0.008));
        $knock = Tone::shaped($this->tone->sine(0.05, 410.0), $this->tone->envelope(0.05, 0.0005, 0.035));

        return $this->tone->finished(Tone::warm(Tone::mixed([[$body, 0.95], [$click, 0.6], [$knock, 0.25]]), 1.4), null, 0.8);
    }

    /** Two skin modes, a band of noise and a short room. */
    public function snare(float $hz = 188.0): StereoBlock
    {
        $seconds = 0.55;
        $low = Tone::shaped($this->tone->sine($seconds, $hz), $this->tone->envelope($seconds, 0.0006, 0.20));
        $high = Tone::shaped($this->tone->sine($seconds, $hz * 1.787), $this->tone->envelope($seconds, 0.0006, 0.14));
        $wires = Tone::shaped($this->tone->band($seconds, 1500, 7000, 7), $this->tone->envelope($seconds, 0.001, 0.26));
        $snap = Tone::shaped($this->tone->band(0.03, 2500, 11000, 8), $this->tone->envelope(0.03, 0.0003, 0.02));
        $dry = Tone::warm(Tone::mixed([[$low, 0.55], [$high, 0.35], [$wires, 0.75], [$snap, 0.6]]), 1.2);

        return $this->inRoom($dry, 0.3, 0.2);
    }

    /** Grains swept across: soft in front, short behind. */
    public function shaker(int $seed = 11): StereoBlock
    {
        $seconds = 0.14;
        $grains = Tone::shaped($this->tone->band($seconds, 5200, 12500, $seed), $this->tone->envelope($seconds, 0.012, 0.09));

        return $this->tone->finished($grains, null, 0.5);
    }

    /** Six square waves of no common measure, high-passed, with noise. */
    public function openHat(): StereoBlock
    {
        $seconds = 0.45;
        $partials = [];
        foreach ([205.3, 304.4, 369.6, 522.7, 540.0, 800.0] as $hz) {
            $partials[] = [$this->square($seconds, $hz * 1.55), 0.3];
        }
        $metal = Biquad::highPass(7000, 0.9, $this->sampleRate)->filter(Tone::mixed($partials));
        $air = $this->tone->band($seconds, 6500, 14000, 17);
        $sum = Tone::shaped(Tone::mixed([[$metal, 0.7], [$air, 0.4]]), $this->tone->envelope($seconds, 0.002, 0.38));

        return $this->tone->finished($sum, null, 0.5);
    }

    /** Three short bursts, ten milliseconds apart, then a tail. */
    public function clap(): StereoBlock
    {
        $parts = [];
        foreach ([0.0, 0.010, 0.021] as $k => $at) {
            $burst = Tone::shaped($this->tone->band(0.02, 900, 6000, 20 + $k), $this->tone->envelope(0.02, 0.0005, 0.012));
            $parts[] = [[...array_fill(0, $this->tone->frames($at) + 1, 0.0), ...$burst], 0.8];
        }
        $tail = Tone::shaped($this->tone->band(0.35, 1000, 5000, 24), $this->tone->envelope(0.35, 0.001, 0.22));
        $parts[] = [[...array_fill(0, $this->tone->frames(0.03), 0.0), ...$tail], 0.6];

        return $this->inRoom(Tone::mixed($parts), 0.35, 0.25);
    }

    /** A struck ladle: partials of a free bar. */
    public function ring(float $hz = 587.33): StereoBlock
    {
        $seconds = 1.7;
        $parts = [];
        foreach ([[1.0, 1.0, 1.6], [2.76, 0.5, 1.0], [5.40, 0.28, 0.6], [8.93, 0.15, 0.35]] as [$ratio, $level, $decay]) {
            $parts[] = [Tone::shaped($this->tone->sine($seconds, $hz * $ratio), $this->tone->envelope($seconds, 0.0008, $decay)), $level];
        }

        return $this->inRoom(Tone::mixed($parts), 0.8, 0.15);
    }

    /**
     * A square wave from its harmonics below half the sample rate.
     *
     * @return list<float>
     */
    private function square(float $seconds, float $hz): array
    {
        $parts = [];
        for ($k = 1; $k * $hz < 0.45 * $this->sampleRate; $k += 2) {
            $parts[] = [$this->tone->sine($seconds, $k * $hz), 1.27 / $k];
        }

        return Tone::mixed($parts);
    }

    /** @param list<float> $dry */
    private function inRoom(array $dry, float $decay, float $level): StereoBlock
    {
        $dry = [...$dry, ...array_fill(0, $this->tone->frames(min(0.35, $decay)), 0.0)];
        [$left, $right] = (new Room($this->sampleRate, $decay))->of($dry);

        return $this->tone->finished(Tone::mixed([[$dry, 1.0], [$left, $level]]), Tone::mixed([[$dry, 1.0], [$right, $level]]));
    }
}
