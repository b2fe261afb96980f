<?php

namespace Pestle\App\Console;

use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Section;

/** Sections and patterns by what somebody typed. */
final class Named
{
    /**
     * @param array<Section|Pattern> $all
     * @param string                 $name its id or its name
     *
     * @return string its id
     *
     * @throws InvalidChange where there is none
     */
    public static function in(array $all, string $name, string $kind): string
    {
        foreach ($all as $one) {
            if ($one->id === $name || $one->name === $name) {
                return $one->id;
            }
        }

        throw new InvalidChange(\sprintf('There is no %s named "%s" in this beat. There are: %s.', $kind, $name, implode(', ', array_map(static fn (Section|Pattern $one): string => $one->name, $all))));
    }
}
