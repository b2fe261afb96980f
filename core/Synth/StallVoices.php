<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;

/** Struck things of a night market: drums, bowls, rails and roofs. Frequencies in Hz, times in seconds, levels 0 to 1. */
final readonly class StallVoices
{
    private Tone $tone;

    public function __construct(private int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    /**
     * A drum whose pitch falls: a sine with warmth, and a click in front.
     *
     * @param float $fall  in which most of the way is gone
     * @param float $click how loud the click is
     * @param float $drive warmth; 1 is gentle
     */
    public function falling(float $fromHz, float $toHz, float $fall, float $decay, float $click = 0.4, float $drive = 1.4, int $seed = 3): StereoBlock
    {
        $seconds = $decay * 1.05;
        $phase = 0.0;
        $body = [];
        for ($i = 0, $n = $this->tone->frames($seconds); $i < $n; ++$i) {
            $phase += 2 * \M_PI * ($toHz + ($fromHz - $toHz) * exp(-3.0 * $i / ($fall * $this->sampleRate))) / $this->sampleRate;
            $body[] = sin($phase);
        }
        $body = Tone::shaped($body, $this->tone->envelope($seconds, 0.0008, $decay));
        $front = Tone::shaped($this->tone->band(0.015, 1000, 7000, $seed), $this->tone->envelope(0.015, 0.0002, 0.01));

        return $this->tone->finished(Tone::warm(Tone::mixed([[$body, 0.95], [$front, $click]]), $drive), null, 0.85);
    }

    /**
     * Skin modes and a band of noise: snares, brushes, claps of the hand.
     *
     * @param list<array{float, float, float}> $modes frequency, level and decay
     * @param float                            $air   level of the noise
     */
    public function skin(array $modes, float $fromHz, float $toHz, float $air, float $decay, float $attack = 0.0008, int $seed = 7, float $room = 0.2): StereoBlock
    {
        $seconds = max([$decay, ...array_column($modes, 2)]) * 1.1;
        $parts = [[Tone::shaped($this->tone->band($seconds, $fromHz, $toHz, $seed), $this->tone->envelope($seconds, $attack, $decay)), $air]];
        foreach ($modes as [$hz, $level, $dies]) {
            $parts[] = [Tone::shaped($this->tone->sine($seconds, $hz), $this->tone->envelope($seconds, 0.0006, $dies)), $level];
        }

        return $this->placed(Tone::warm(Tone::mixed($parts), 1.2), $room, 0.25);
    }

    /**
     * Metal and wood: partials of no common measure.
     *
     * @param list<array{float, float, float}> $partials ratio to the first, level and decay
     * @param float                            $knock    level of a short noise in front
     */
    public function struck(float $hz, array $partials, float $knock = 0.1, float $room = 0.25, int $seed = 5): StereoBlock
    {
        $seconds = max(array_column($partials, 2) ?: [0.1]) * 1.05;
        $parts = [[Tone::shaped($this->tone->band(0.02, 800, 9000, $seed), $this->tone->envelope(0.02, 0.0003, 0.012)), $knock]];
        foreach ($partials as [$ratio, $level, $decay]) {
            $parts[] = [Tone::shaped($this->tone->sine($seconds, $hz * $ratio), $this->tone->envelope($seconds, 0.0006, $decay)), $level];
        }

        return $this->placed(Tone::mixed($parts), $room, 0.2);
    }

    /** A hat: noise and the upper harmonics of square waves of no common measure. */
    public function hat(float $fromHz, float $decay, float $metal = 0.6, int $seed = 17, float $attack = 0.001): StereoBlock
    {
        $seconds = $decay * 1.1;
        $parts = [];
        foreach ([318.2, 471.8, 572.9, 810.2, 837.0, 1240.0] as $hz) {
            for ($k = 3; $k * $hz < 0.42 * $this->sampleRate; $k += 4) {
                $parts[] = [$this->tone->sine($seconds, $k * $hz, $k), 0.8 / $k];
            }
        }
        $bright = Biquad::highPass($fromHz, 0.8, $this->sampleRate)->filter(Tone::mixed($parts));
        $air = $this->tone->band($seconds, $fromHz, 15000, $seed);

        return $this->tone->finished(Tone::shaped(Tone::mixed([[$bright, $metal], [$air, 0.5]]), $this->tone->envelope($seconds, $attack, $decay)), null, 0.6);
    }

    /** Drops on a roof: many short knocks by chance. */
    public function drops(float $seconds, int $count, float $lowHz, float $highHz, int $seed): StereoBlock
    {
        $noise = $this->tone->noise(0.01, $seed);
        $sides = [array_fill(0, $this->tone->frames($seconds + 0.1), 0.0), array_fill(0, $this->tone->frames($seconds + 0.1), 0.0)];
        for ($d = 0; $d < $count; ++$d) {
            $chance = static fn (int $k): float => 0.5 + 0.5 * $noise[($d * 3 + $k) % \count($noise)];
            $drop = Tone::shaped($this->tone->sine(0.06, $lowHz * ($highHz / $lowHz) ** $chance(0)), $this->tone->envelope(0.06, 0.0004, 0.02 + 0.03 * $chance(1)));
            $at = $this->tone->frames($seconds * ($d + $chance(2)) / ($count + 1));
            $pan = $chance(1);
            foreach ($drop as $i => $x) {
                $sides[0][$at + $i] += $x * (1.0 - $pan) * (1.0 - 0.7 * $d / $count);
                $sides[1][$at + $i] += $x * $pan * (1.0 - 0.7 * $d / $count);
            }
        }

        return $this->tone->finished(array_values($sides[0]), array_values($sides[1]), 0.5);
    }

    /**
     * Stacked saws through a falling low-pass: a stab.
     *
     * @param list<float> $notes MIDI
     */
    public function stab(array $notes, float $seconds, float $cutoffHz): StereoBlock
    {
        $sides = [];
        foreach ([-0.06, 0.06] as $side => $detune) {
            // One after another: all partials at once would take hundreds of megabytes.
            $sum = array_fill(0, $this->tone->frames($seconds), 0.0);
            foreach ($notes as $n => $note) {
                foreach ([$detune, -$detune / 3] as $off) {
                    $hz = TonalVoices::hz($note + $off);
                    for ($k = 1; $k * $hz < 0.4 * $this->sampleRate && $k < 40; ++$k) {
                        $roll = 1.0 / (1.0 + ($k * $hz / $cutoffHz) ** 2);
                        if ($roll / $k > 0.002) {
                            $sum = Tone::mixed([[$sum, 1.0], [Tone::shaped($this->tone->sine($seconds, $k * $hz, 0.7 * $n + $side), $this->tone->envelope($seconds, 0.004, $seconds / (1.0 + 0.1 * $k))), $roll / $k]]);
                        }
                    }
                }
            }
            $sides[] = $sum;
        }

        return $this->tone->finished($sides[0], $sides[1], 0.6);
    }

    /** @param list<float> $dry */
    private function placed(array $dry, float $decay, float $level): StereoBlock
    {
        $dry = [...$dry, ...array_fill(0, $this->tone->frames(min(0.2, $decay)), 0.0)];
        [$left, $right] = (new Room($this->sampleRate, $decay))->of($dry);

        return $this->tone->finished(Tone::mixed([[$dry, 1.0], [$left, $level]]), Tone::mixed([[$dry, 1.0], [$right, $level]]));
    }
}
