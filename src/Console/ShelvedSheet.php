<?php

namespace Pestle\App\Console;

use Pestle\App\Shelf\KitShelf;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\KitSheet;

/** A kit of the shelf by what somebody typed. */
final class ShelvedSheet
{
    /**
     * @param string $kit its name or number
     *
     * @throws InvalidChange where there is none, or what it holds cannot be read
     */
    public static function of(KitShelf $shelf, string $kit): KitSheet
    {
        $found = $shelf->named($kit) ?? (ctype_digit($kit) ? $shelf->find((int) $kit) : null);
        $version = null === $found ? null : $shelf->version($found->id, null);

        return null === $version ? throw new InvalidChange(\sprintf('There is no kit named "%s" on the shelf. bin/console pestle:list kits tells which there are.', $kit)) : KitShelf::sheet($version);
    }
}
