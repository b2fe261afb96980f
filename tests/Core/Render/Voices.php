<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Render\LoopVoices;
use Pestle\Core\Render\Voice;

/** Voices of one pass of a loop. */
final class Voices
{
    /** @return array<string, list<Voice>> by pad or part */
    public static function ofAPass(LoopVoices $loop, int $frames): array
    {
        return array_map(static fn (array $list): array => array_values(array_map(static fn (array $one): Voice => $one[0], array_filter($list, static fn (array $one): bool => 0 === $one[1]))), $loop->within(0, $frames));
    }
}
