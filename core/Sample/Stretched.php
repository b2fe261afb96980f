<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;

/** A source made longer or shorter with its pitch kept, in the way that suits its material. */
final class Stretched
{
    /**
     * @param StretchMap $map     where its frames come to lie
     * @param list<int>  $attacks frames of the source at which hits begin, ascending; only asked for hits
     */
    public static function along(AudioSource $source, StretchMap $map, Material $material, array $attacks = []): AudioSource
    {
        return Material::Hits === $material ? new StretchedHits($source, $map, $attacks) : new StretchedTones($source, $map);
    }

    /**
     * The same speed throughout.
     *
     * @param float     $ratio   length of the result over that of the source, 0.25 to 4
     * @param list<int> $attacks
     */
    public static function by(AudioSource $source, float $ratio, Material $material, array $attacks = []): AudioSource
    {
        return self::along($source, StretchMap::by($ratio, $source->frames()), $material, $attacks);
    }
}
