<?php

namespace Pestle\Core\Audio;

/** Numbers out of bytes as unpack() gives them, in half the time: it is spared to make up keys, as every number has a name of one letter. */
final class Unpacked
{
    private const AT_ONCE = 32;
    /** How many bytes words() takes. */
    public const WORD_BYTES = 8 * self::AT_ONCE;
    private const WORDS = 'qA/qB/qC/qD/qE/qF/qG/qH/qI/qJ/qK/qL/qM/qN/qO/qP/qQ/qR/qS/qT/qU/qV/qW/qX/qY/qZ/qa/qb/qc/qd/qe/qf';

    /**
     * Integers of eight bytes, in which several values of a file lie side by side from the lowest bits up: shifting
     * them out of there is much faster than having them one by one.
     *
     * @param string $bytes as wholeWords() gives them
     *
     * @return array<mixed> the integers in the WORD_BYTES from $offset on
     */
    public static function words(string $bytes, int $offset): array
    {
        return unpack(self::WORDS, $bytes, $offset) ?: [];
    }

    /** Followed by zeros, so that words() finds as many bytes as it wants. */
    public static function wholeWords(string $bytes): string
    {
        return str_pad($bytes, self::WORD_BYTES * (int) ceil(\strlen($bytes) / self::WORD_BYTES), "\0");
    }

    /**
     * @param string $code of unpack()
     * @param int    $size bytes of a number
     *
     * @return list<mixed> as many numbers as are whole in $bytes
     */
    public static function numbers(string $code, int $size, string $bytes): array
    {
        $count = intdiv(\strlen($bytes), $size);
        $format = str_replace('q', $code, self::WORDS);
        $step = self::AT_ONCE * $size;
        $bytes = str_pad($bytes, $step * (int) ceil($count / self::AT_ONCE), "\0");
        $out = array_fill(0, intdiv(\strlen($bytes), $size), 0);
        $i = 0;
        for ($at = 0; $i < $count; $at += $step) {
            foreach (unpack($format, $bytes, $at) ?: [] as $number) {
                $out[$i] = $number;
                ++$i;
            }
        }

        return \array_slice($out, 0, $count);
    }
}
