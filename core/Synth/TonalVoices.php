<?php

namespace Pestle\Core\Synth;

use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Signal\Biquad;

/** Pitched sounds: a bass, a hummed phrase. */
final readonly class TonalVoices
{
    private Tone $tone;

    public function __construct(private int $sampleRate)
    {
        $this->tone = new Tone($sampleRate);
    }

    public static function hz(float $note): float
    {
        return 440.0 * 2.0 ** (($note - 69.0) / 12.0);
    }

    /** A jar blown low: a sine with a little of its second and third harmonic, gliding up into the note. */
    public function bass(float $note, float $seconds = 2.2): StereoBlock
    {
        $out = [];
        $phase = 0.0;
        $hz = self::hz($note);
        $envelope = $this->tone->envelope($seconds, 0.008, 3.6);
        foreach ($envelope as $i => $level) {
            $glide = 1.0 - 0.03 * exp(-$i / (0.012 * $this->sampleRate));
            $phase += 2 * \M_PI * $hz * $glide / $this->sampleRate;
            $out[] = $level * (sin($phase) + 0.22 * sin(2 * $phase) + 0.10 * sin(3 * $phase) + 0.04 * sin(4 * $phase));
        }

        return $this->tone->finished(Tone::warm($out, 1.1), null, 0.6);
    }

    /**
     * A hummed phrase: a soft saw with vibrato through two formants.
     *
     * @param list<array{float, float, float}> $notes MIDI note, start and length in seconds
     */
    public function hum(array $notes, float $seconds): StereoBlock
    {
        $source = array_fill(0, $this->tone->frames($seconds), 0.0);
        foreach ($notes as [$note, $start, $length]) {
            $first = $this->tone->frames($start);
            $n = $this->tone->frames($length);
            $phase = 0.0;
            $harmonics = min(24, (int) (7000 / self::hz($note)));
            for ($i = 0; $i < $n && isset($source[$first + $i]); ++$i) {
                $t = $i / $this->sampleRate;
                $vibrato = 1.0 + 0.006 * min(1.0, $t / 0.3) * sin(2 * \M_PI * 5.0 * $t);
                $phase += 2 * \M_PI * self::hz($note) * $vibrato / $this->sampleRate;
                $value = 0.0;
                for ($k = 1; $k <= $harmonics; ++$k) {
                    $value += sin($k * $phase) / ($k ** 1.4);
                }
                $edge = min(1.0, $t / 0.07, ($length - $t) / 0.12);
                $source[$first + $i] += $value * 0.5 * (1 - cos(\M_PI * max(0.0, $edge)));
            }
        }
        $low = Biquad::bandPass(320, 2.2, $this->sampleRate)->filter($source);
        $high = Biquad::bandPass(1050, 4.0, $this->sampleRate)->filter($source);
        $breath = Tone::shaped($this->tone->band($seconds, 1500, 5000, 31), array_map(abs(...), $low));
        $dry = Tone::mixed([[$low, 1.0], [$high, 0.5], [$breath, 0.12]]);
        [$left, $right] = (new Room($this->sampleRate, 0.7))->of($dry);

        return $this->tone->finished(Tone::mixed([[$dry, 1.0], [$left, 0.3]]), Tone::mixed([[$dry, 1.0], [$right, 0.3]]), 0.5);
    }
}
