<?php

namespace Pestle\App\Console;

use Pestle\App\Shelf\KitShelf;
use Pestle\Core\Beat\KitSheet;

/** A kit of the shelf by what somebody typed. */
final class ShelvedSheet
{
    /** @param mixed $kit its name or number */
    public static function of(KitShelf $shelf, mixed $kit): ?KitSheet
    {
        $name = \is_string($kit) ? $kit : '';
        $found = $shelf->named($name) ?? (ctype_digit($name) ? $shelf->find((int) $name) : null);
        $version = null === $found ? null : $shelf->version($found->id, null);

        return null === $version ? null : KitShelf::sheet($version);
    }
}
