<?php

namespace Pestle\Core\Audio;

/** Tells whether two recordings are the same sound, whatever format they are stored in. */
final class Fingerprint
{
    private const PIECES = 64;
    private const FRAMES = 4096;

    /** Equal for equal rate, length and values at 24 bits. Long ones are looked at in places, evenly over the whole. */
    public static function of(AudioSource $source): string
    {
        $frames = $source->frames();
        $hash = hash_init('sha256');
        hash_update($hash, $source->sampleRate().' '.$frames);
        $pieces = min(self::PIECES, intdiv($frames, self::FRAMES) + 1);
        for ($i = 0; $i < $pieces; ++$i) {
            $block = $source->read((int) ($i * $frames / $pieces), self::FRAMES);
            foreach ([$block->left, $block->right] as $side) {
                hash_update($hash, pack('l*', ...array_map(static fn (float $x): int => (int) round($x * 8388608.0), $side)));
            }
        }

        return hash_final($hash);
    }
}
