<?php

namespace Pestle\Tests\Core\Apart;

use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Synth\OldPiano;
use Pestle\Core\Synth\Tone;
use Pestle\Tests\Hearing\SynthKit;

/** A song whose parts are known: drums by oscillators, a bass that is a sine, chords on an old piano. */
final readonly class KnownSong
{
    private const STEP = 0.15;

    private function __construct(public MemorySource $drums, public MemorySource $bass, public MemorySource $melody, public MemorySource $mix)
    {
    }

    public static function of(float $seconds): self
    {
        mt_srand(77);
        $kit = new SynthKit(44100);
        $tone = new Tone(44100);
        $frames = (int) ($seconds * 44100);
        $drums = $bass = $notes = [];
        for ($step = 0; self::STEP * $step < $seconds - 0.5; ++$step) {
            $now = self::STEP * $step;
            if (0 === $step % 8 || 5 === $step % 16) {
                $drums[] = [$now, $kit->sound('kick'), 0.5];
            }
            if (4 === $step % 8) {
                $drums[] = [$now, $kit->sound('snare'), 0.4];
            }
            $drums[] = [$now, $kit->sound('closed hat'), 0.15];
            $root = [45, 41, 36, 43][intdiv($step, 16) % 4];
            if (\in_array($step % 16, [0, 6, 10], true)) {
                $bass[] = [$now, Tone::shaped($tone->sine(0.55, 440.0 * 2 ** (($root - 5 - 69) / 12)), $tone->envelope(0.55, 0.008, 1.6)), 0.3];
            }
            foreach (0 === $step % 8 ? [15, 18, 22, 27] : [] as $k) {
                $notes[] = [$root + $k, $now, 1.1, 80];
            }
        }
        $piano = (new OldPiano(44100))->recording($notes, $seconds);
        $drums = self::laid($frames, $drums);
        $bass = self::laid($frames, $bass);
        $left = self::laid($frames, [[0.0, $piano->left, 0.5]]);
        $right = self::laid($frames, [[0.0, $piano->right, 0.5]]);
        $both = Tone::mixed([[$drums, 1.0], [$bass, 1.0]]);

        return new self(self::source($drums, $drums), self::source($bass, $bass), self::source($left, $right), self::source(Tone::mixed([[$both, 1.0], [$left, 1.0]]), Tone::mixed([[$both, 1.0], [$right, 1.0]])));
    }

    /**
     * @param list<float> $left
     * @param list<float> $right
     */
    private static function source(array $left, array $right): MemorySource
    {
        return new MemorySource(new StereoBlock($left, $right), 44100);
    }

    /**
     * @param list<array{float, list<float>, float}> $sounds second, sound, level
     *
     * @return list<float>
     */
    private static function laid(int $frames, array $sounds): array
    {
        $out = array_fill(0, $frames, 0.0);
        foreach ($sounds as [$at, $sound, $level]) {
            foreach (\array_slice($sound, 0, max(0, $frames - (int) ($at * 44100))) as $i => $x) {
                $out[(int) ($at * 44100) + $i] += $level * $x;
            }
        }

        return array_values($out);
    }
}
