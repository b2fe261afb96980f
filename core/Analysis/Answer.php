<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/** How a box that was sent a note answered in a recording: how late, and how loud its own noise is between notes. */
final readonly class Answer
{
    /** Its noise is listened to for so many seconds before it is asked, its answer looked for in so many after. */
    private const NOISE = 0.25;
    private const LONGEST = 1.0;
    /** By so much, as a factor, an answer stands out of the loudest of the noise. */
    private const STANDS_OUT = 2.0;
    private const SILENCE = 1e-4;

    /**
     * @param int   $late    frames from the sending to the beginning of its answer
     * @param float $noiseDb loudest of its noise, dBFS
     */
    private function __construct(public int $late, public float $noiseDb)
    {
    }

    /**
     * @param int $sent frame of the recording at which the note was sent, with silence before it
     *
     * @return self|null null where no answer stands out
     */
    public static function in(AudioSource $recording, int $sent): ?self
    {
        $rate = $recording->sampleRate();
        $before = (int) (self::NOISE * $rate);
        $noise = max([self::SILENCE, ...self::sides($recording, max(0, $sent - $before), min($before, max(0, $sent)))]);
        foreach (self::sides($recording, $sent, (int) (self::LONGEST * $rate)) as $frame => $loud) {
            if ($loud > self::STANDS_OUT * $noise) {
                return new self($frame, 20.0 * log10($noise));
            }
        }

        return null;
    }

    /** @return list<float> the louder side of each frame */
    private static function sides(AudioSource $recording, int $start, int $count): array
    {
        $block = $recording->read($start, $count);

        return array_map(static fn (float $left, float $right): float => max(abs($left), abs($right)), $block->left, $block->right);
    }
}
