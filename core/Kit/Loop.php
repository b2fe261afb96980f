<?php

namespace Pestle\Core\Kit;

/** A stretch of a sound that goes round while it is held. */
final class Loop
{
    /**
     * Where it came to lie; none when it does not hold together any more.
     *
     * @param callable(int): int $moved
     *
     * @return array{loopStart: int|null, loopEnd: int|null}
     */
    public static function moved(?int $loopStart, ?int $loopEnd, int $start, int $end, callable $moved): array
    {
        [$from, $to] = null === $loopStart || null === $loopEnd ? [0, 0] : [max($start, $moved($loopStart)), min($end, $moved($loopEnd))];

        return ['loopStart' => $to > $from ? $from : null, 'loopEnd' => $to > $from ? $to : null];
    }
}
