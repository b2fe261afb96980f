<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;
use Pestle\Core\Signal\Noise;

/**
 * A worn upright: stiff strings in detuned pairs, a hammer, wow of the tape it was recorded to, dust.
 * Partials lie at n f0 sqrt(1 + B n²). Source: H. Fletcher, "Normal vibration frequencies of a stiff piano string" (JASA 1964).
 */
final readonly class OldPiano
{
    private const INHARMONICITY = 0.0004;
    private Tone $tone;

    public function __construct(private int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    /**
     * A recording of notes.
     *
     * @param list<array{int, float, float, int}> $notes MIDI note, start and length in seconds, velocity
     */
    public function recording(array $notes, float $seconds): StereoBlock
    {
        $frames = $this->tone->frames($seconds);
        $left = $right = array_fill(0, $frames, 0.0);
        $hand = new Noise(41);
        foreach ($notes as [$note, $start, $length, $velocity]) {
            $sound = $this->note($note, $length, $velocity);
            $at = max(0, $this->tone->frames($start + 0.006 * $hand->next()));
            $place = 0.5 + 0.30 * max(-1.0, min(1.0, ($note - 62) / 16));
            foreach ($sound as $i => $x) {
                // What sounds beyond the end of a loop comes round to its start.
                $k = ($at + $i) % $frames;
                $left[$k] += $x * (1.0 - $place);
                $right[$k] += $x * $place;
            }
        }
        [$left, $right] = [array_values($left), array_values($right)];
        [$roomLeft, $roomRight] = (new Room($this->sampleRate, 0.6))->of(Tone::mixed([[$left, 0.5], [$right, 0.5]]));
        $left = Tone::mixed([[$left, 1.0], [$roomLeft, 0.28], [$this->dust($seconds, 43), 1.0]]);
        $right = Tone::mixed([[$right, 1.0], [$roomRight, 0.28], [$this->dust($seconds, 47), 1.0]]);

        return $this->tone->finished($this->tape($left), $this->tape($right), 0.75);
    }

    /** @return list<float> */
    private function note(int $note, float $length, int $velocity): array
    {
        $f0 = TonalVoices::hz($note);
        $seconds = $length + 0.12;
        $strength = $velocity / 127;
        $sound = array_fill(0, $this->tone->frames($seconds), 0.0);
        for ($n = 1; $n <= 14; ++$n) {
            $hz = $n * $f0 * sqrt(1 + self::INHARMONICITY * $n * $n);
            if ($hz > 7000) {
                break;
            }
            // Struck at an eighth of the string; soft strokes have fewer overtones.
            $level = abs(sin(\M_PI * $n / 8.2)) / $n ** (1.5 - 0.6 * $strength);
            $decay = 4.5 * (261.6 / $f0) ** 0.5 / (1 + 0.22 * $n);
            foreach ([-1.5, 1.5] as $cents) {
                $sound = $this->partial($sound, $hz * 2 ** ($cents / 1200), 0.5 * $level, $decay);
            }
        }
        $hammer = Tone::shaped($this->tone->band(0.06, 120, 1800, $note), $this->tone->envelope(0.06, 0.001, 0.04));
        $sound = Tone::mixed([[$sound, 1.0], [$hammer, 0.16]]);
        $held = $this->tone->frames($length);
        foreach ($sound as $i => $x) {
            $damper = $i < $held ? 1.0 : exp(-($i - $held) / (0.028 * $this->sampleRate));
            $sound[$i] = $x * $damper * $strength ** 1.3;
        }

        return $sound;
    }

    /**
     * Adds a dying sine, by the recursion of a two-pole resonator; the start is rounded over 3 ms.
     *
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private function partial(array $sound, float $hz, float $level, float $decay): array
    {
        $w = 2 * \M_PI * $hz / $this->sampleRate;
        $r = exp(-log(1000.0) / ($decay * $this->sampleRate));
        [$c1, $c2] = [2 * $r * cos($w), -$r * $r];
        [$y1, $y2] = [-$level * sin($w) / $r, -$level * sin(2 * $w) / ($r * $r)];
        $rise = $this->tone->frames(0.003);
        foreach ($sound as $i => $x) {
            $y = $c1 * $y1 + $c2 * $y2;
            $y2 = $y1;
            $y1 = $y;
            $sound[$i] = $x + ($i < $rise ? $y * $i / $rise : $y);
        }

        return $sound;
    }

    /**
     * Quiet clicks and a bed of noise near -52 dB.
     *
     * @return list<float>
     */
    private function dust(float $seconds, int $seed): array
    {
        $noise = new Noise($seed);
        $out = $this->tone->band($seconds, 300, 5000, $seed);
        foreach ($out as $i => $x) {
            $click = $noise->next();
            $out[$i] = 0.0035 * $x + ($click > 0.9997 ? 0.03 * $click : 0.0);
        }

        return $out;
    }

    /**
     * Slow drift in pitch (0.4 Hz, about 6 cents) and a dull top.
     *
     * @param list<float> $signal
     *
     * @return list<float>
     */
    private function tape(array $signal): array
    {
        $n = \count($signal);
        // Whole turns over the recording, so that a loop stays a loop.
        $turns = max(1, (int) round(0.4 * $n / $this->sampleRate));
        $depth = 0.0035 * $n / (2 * \M_PI * $turns);
        $out = [];
        for ($i = 0; $i < $n; ++$i) {
            $place = $i + $depth * (1 - cos(2 * \M_PI * $turns * $i / $n)) * 0.5;
            $whole = (int) $place;
            $part = $place - $whole;
            $out[] = $signal[$whole % $n] * (1.0 - $part) + $signal[($whole + 1) % $n] * $part;
        }

        return Biquad::lowPass(4800, 0.8, $this->sampleRate)->filter($out);
    }
}
