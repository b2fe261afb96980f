<?php

namespace Pestle\Tests\Hearing;

use Pestle\Core\Audio\SoundFile;

/** What a speech synthesizer sings and says: words brought to the pitch and the length of notes, and sentences in time. */
final class Voices
{
    private const RATE = 44100;
    /** Those that models meet, and those kept to measure by. */
    public const MET = ['en-us', 'en-gb', 'en-gb-scotland', 'de', 'fr-fr', 'es', 'nl', 'pl', 'pt-br', 'el', 'fi', 'hu', 'ro', 'tr', 'ru', 'cs'];
    public const UNMET = ['it', 'sv', 'pt', 'hr', 'en-029', 'ca'];
    private const MET_COLOURS = ['', '+m1', '+m3', '+m5', '+m7', '+f1', '+f2', '+f4', '+f5', '+croak', '+klatt2'];
    private const UNMET_COLOURS = ['+m2', '+m4', '+f3', '+m6', '+klatt'];
    private const SUNG = ['la', 'na', 'oh', 'ah', 'you', 'me', 'rain', 'low', 'day', 'heart', 'slow', 'wide', 'over', 'river', 'morning', 'mo', 'sail', 'no', 'hey', 'ooh', 'turn', 'harbour', 'light', 'under', 'stay', 'kettle', 'window', 'alone', 'summer', 'yeah'];
    private const SAID = ['the rain comes over the roof and the kettle sings', 'nobody knows how late the last tram leaves', 'take two steps to the left and turn around', 'I count the lights along the harbour wall', 'every morning the same door the same stairs', 'tell me again what the neighbours said', 'we never had much but we had the time', 'one more night and the river will be here'];

    /**
     * @param list<string> $voices  of the speech synthesizer
     * @param list<string> $colours its variants of them
     */
    private function __construct(private readonly string $folder, private readonly array $voices, private readonly array $colours)
    {
    }

    public static function met(string $folder): self
    {
        return new self($folder, self::MET, self::MET_COLOURS);
    }

    public static function unmet(string $folder): self
    {
        return new self($folder, self::UNMET, self::UNMET_COLOURS);
    }

    /**
     * @param list<array{float, float, int}> $notes start and end in seconds, MIDI number
     *
     * @return list<float>
     */
    public function sung(array $notes, float $seconds): array
    {
        $voice = $this->drawn();
        $out = array_fill(0, (int) ($seconds * self::RATE), 0.0);
        $vibrato = Chance::often(60) ? Chance::between(0.05, 0.4) : 0.0;
        $pitch = mt_rand(20, 80);
        foreach ($notes as [$from, $to, $midi]) {
            $word = $this->spoken($voice, self::SUNG[mt_rand(0, \count(self::SUNG) - 1)], $pitch, mt_rand(90, 150), true);
            $hz = self::pitchOf($word);
            if ($hz < 60.0) {
                continue;
            }
            $ratio = 440.0 * 2 ** (($midi - 69) / 12) / $hz;
            $ratio *= 2.0 ** -round(log($ratio, 2));
            $held = self::held($word, (int) (($to - $from) * self::RATE * $ratio), (int) round(self::RATE / $hz));
            $out = self::laid($out, self::bent($held, $ratio, $vibrato), (int) ($from * self::RATE), Chance::between(0.7, 1.0));
        }

        return $out;
    }

    /**
     * @param list<float> $starts seconds at which something is said
     *
     * @return list<float>
     */
    public function said(array $starts, float $seconds): array
    {
        $voice = $this->drawn();
        $out = array_fill(0, (int) ($seconds * self::RATE), 0.0);
        $pitch = mt_rand(15, 85);
        foreach ($starts as $at) {
            $out = self::laid($out, $this->spoken($voice, self::SAID[mt_rand(0, \count(self::SAID) - 1)], $pitch, mt_rand(120, 210), false), (int) ($at * self::RATE), 1.0);
        }

        return $out;
    }

    private function drawn(): string
    {
        return $this->voices[mt_rand(0, \count($this->voices) - 1)].$this->colours[mt_rand(0, \count($this->colours) - 1)];
    }

    /** @return list<float> */
    private function spoken(string $voice, string $words, int $pitch, int $speed, bool $even): array
    {
        $path = $this->folder.'/spoken-'.getmypid().'.wav';
        $said = $even ? '<prosody range="x-low">'.$words.'</prosody>' : $words;
        exec(\sprintf('espeak-ng -m -v %s -p %d -s %d -w %s %s 2>&1', escapeshellarg($voice), $pitch, $speed, escapeshellarg($path.'.raw'), escapeshellarg($said)), $told, $status);
        0 === $status || throw new \RuntimeException('espeak-ng: '.implode("\n", $told));
        Worn::ffmpeg($path.'.raw', $path, 'aresample='.self::RATE);
        $file = SoundFile::open($path);
        $sound = $file->read(0, $file->frames())->left;
        array_map(unlink(...), [$path, $path.'.raw']);

        return $sound;
    }

    /**
     * @param list<float> $sound
     *
     * @return float Hz around its loudest place by what is most like itself, 0 when nothing is
     */
    private static function pitchOf(array $sound): float
    {
        $at = self::loudest($sound);
        $some = \array_slice($sound, max(0, $at - 1500), 3000);
        $best = [0.3, 0];
        for ($lag = 70; $lag < 600; ++$lag) {
            $sum = $a = $b = 1e-9;
            for ($i = 0, $n = \count($some) - $lag; $i < $n; $i += 2) {
                $sum += $some[$i] * $some[$i + $lag];
                $a += $some[$i] ** 2;
                $b += $some[$i + $lag] ** 2;
            }
            // Twice as long is nearly as like: only what is plainly better wins.
            $like = $sum / sqrt($a * $b);
            if ($like > $best[0] + 0.03) {
                $best = [$like, $lag];
            }
        }

        return $best[1] > 0 ? self::RATE / $best[1] : 0.0;
    }

    /** @param list<float> $sound */
    private static function loudest(array $sound): int
    {
        $best = [0.0, 0];
        for ($at = 0, $n = \count($sound) - 1500; $at < $n; $at += 400) {
            $sum = 0.0;
            for ($i = $at; $i < $at + 1500; $i += 3) {
                $sum += $sound[$i] ** 2;
            }
            $best = $sum > $best[0] ? [$sum, $at + 750] : $best;
        }

        return $best[1];
    }

    /**
     * As long as it should sound: its loudest place goes round by whole periods, or its end is cut.
     *
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function held(array $sound, int $frames, int $period): array
    {
        $sound = array_values($sound);
        $missing = $frames - \count($sound);
        if ($missing > 0) {
            $at = self::loudest($sound);
            $turn = $period * max(1, (int) round(2500 / $period));
            $from = min($at, \count($sound) - 2 * $turn - 1);
            if ($from > 0) {
                $round = \array_slice($sound, $from, 2 * $turn);
                $put = [];
                for ($k = 0; $k * $turn < $missing; ++$k) {
                    for ($i = 0; $i < $turn; ++$i) {
                        $w = $i / $turn;
                        $put[] = (1.0 - $w) * $round[$turn + $i] + $w * $round[$i];
                    }
                }
                array_splice($sound, $from + $turn, 0, $put);
            }
        }
        $sound = \array_slice($sound, 0, max(2000, $frames));
        for ($i = 0, $n = min(800, \count($sound)); $i < $n; ++$i) {
            $sound[\count($sound) - 1 - $i] *= $i / $n;
        }

        return array_values($sound);
    }

    /**
     * @param list<float> $sound
     *
     * @return list<float> read at another speed that sways
     */
    private static function bent(array $sound, float $ratio, float $semitones): array
    {
        $out = [];
        $sway = 2 * \M_PI * Chance::between(4.5, 6.5) / self::RATE;
        $last = \count($sound) - 2;
        for ($at = 0.0, $i = 0; $at < $last; ++$i) {
            $k = (int) $at;
            $f = $at - $k;
            $out[] = $sound[$k] + $f * ($sound[$k + 1] - $sound[$k]);
            $at += $ratio * (1.0 + 0.0578 * $semitones * sin($sway * $i) * min(1.0, $i / 12000));
        }

        return $out;
    }

    /**
     * @param list<float> $out
     * @param list<float> $sound
     *
     * @return list<float>
     */
    private static function laid(array $out, array $sound, int $from, float $gain): array
    {
        $n = \count($out);
        foreach ($sound as $i => $x) {
            if ($from + $i >= $n) {
                break;
            }
            $out[$from + $i] += $gain * $x;
        }

        return array_values($out);
    }
}
