<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/** What a single sound is likeliest to be for: the numbers of its beginning and of its whole, weighed by a fitted network. */
final class SingleSound
{
    /** In the order of the network's outputs; named as the roles of pads. */
    public const ROLES = ['kick', 'snare', 'clap', 'hat', 'open-hat', 'tom', 'cymbal', 'percussion', 'bass', 'tonal', 'voice'];

    /** @return array{string, float} role and how sure, 0 to 1 */
    public static function role(AudioSource $source, SoundShape $shape, ?PitchGuess $pitch): array
    {
        $probabilities = Fitted::probabilities(Fitted::network('sounds')->outputs(self::features($source, $shape, $pitch)) ?: [0.0]);
        $sure = max($probabilities);

        return [self::ROLES[(int) array_search($sure, $probabilities, true)], $sure];
    }

    /** @return list<float> */
    public static function features(AudioSource $source, SoundShape $shape, ?PitchGuess $pitch): array
    {
        return [...(new HitSound($source, $shape->peak))->features($shape->start(), $source->frames()), ...$shape->features($pitch)];
    }
}
